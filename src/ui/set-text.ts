/** Changes a text where it is another: the page is laid out anew for every change. */
export function setText(element: HTMLElement | null, text: string): void {
  if (element && element.textContent !== text) element.textContent = text;
}
