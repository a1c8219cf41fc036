import { useEffect, useState, type RefObject } from 'react';

/** A colour token for drawing: canvas does not know CSS variables. */
export function cssColour(element: Element, variable: string): string {
  return getComputedStyle(element).getPropertyValue(variable);
}

/** An element's width in CSS pixels, also after it changes; 0 before it is known. */
export function useWidth(of: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const element = of.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, [of]);
  return width;
}
