import { useEffect, useRef } from 'react';

const callbacks = new Set<() => void>();
let request = 0;
let drawnAt = -Infinity;

/** Meters are drawn some thirty times a second: nobody sees more, and the sound needs the machine. */
const BETWEEN_MS = 30;

function run(now: number): void {
  if (now - drawnAt >= BETWEEN_MS) {
    drawnAt = now;
    for (const callback of callbacks) callback();
  }
  request = callbacks.size > 0 ? requestAnimationFrame(run) : 0;
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
    if (request === 0) request = requestAnimationFrame(run);
    return () => {
      callbacks.delete(call);
    };
  }, []);
}
