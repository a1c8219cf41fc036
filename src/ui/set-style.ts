/** Moving parts are moved by transforms, for which nothing is laid out anew; what is the same already is not touched. */
export function setStyle(element: HTMLElement, property: 'transform' | 'background' | 'opacity', value: string): void {
  if (element.style[property] !== value) element.style[property] = value;
}
