/** A colour token for drawing: canvas does not know CSS variables. */
export function cssColour(element: Element, variable: string): string {
  return getComputedStyle(element).getPropertyValue(variable);
}
