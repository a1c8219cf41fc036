import { useEffect, useRef } from 'react';

const callbacks = new Set<() => void>();
let running = false;

/** Meters are drawn some thirty times a second: nobody sees more, and the sound needs the machine. */
const BETWEEN_MS = 25;

function draw(): void {
  for (const callback of callbacks) callback();
  running = callbacks.size > 0;
  // A frame that was asked for is drawn even if nothing moves in it, so the next one is asked for only when it is wanted.
  if (running) setTimeout(() => requestAnimationFrame(draw), BETWEEN_MS);
}

/**
 * Calls back before a frame, about thirty times a second, while the component is mounted, all components in one loop. For what
 * moves: drawn straight to the element, never through React's state.
 */
export function useFrame(callback: () => void): void {
  const latest = useRef(callback);
  useEffect(() => {
    latest.current = callback;
  });
  useEffect(() => {
    const call = () => latest.current();
    callbacks.add(call);
    if (!running) requestAnimationFrame(draw);
    running = true;
    return () => {
      callbacks.delete(call);
    };
  }, []);
}
