import { useEffect, useState, type RefObject } from 'react';

/** Colours read so far, with the theme they are of: reading one makes the browser work out all styles first. */
const known = new WeakMap<Element, { theme: string; colours: Map<string, string> }>();

/** A colour token for drawing: canvas does not know CSS variables. */
export function cssColour(element: Element, variable: string): string {
  const theme = document.documentElement.className;
  let kept = known.get(element);
  if (kept?.theme !== theme) known.set(element, (kept = { theme, colours: new Map() }));
  let colour = kept.colours.get(variable);
  if (colour === undefined) kept.colours.set(variable, (colour = getComputedStyle(element).getPropertyValue(variable)));
  return colour;
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

/** An element's size in CSS pixels, also after it changes; 0 before it is known. */
export function useRoom(of: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [room, setRoom] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = of.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setRoom(({ width, height }) => (width === element.clientWidth && height === element.clientHeight ? { width, height } : { width: element.clientWidth, height: element.clientHeight })));
    observer.observe(element);
    return () => observer.disconnect();
  }, [of]);
  return room;
}
