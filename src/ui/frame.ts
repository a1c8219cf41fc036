import { useEffect, useRef } from 'react';

const callbacks = new Set<() => void>();
let request = 0;

function run(): void {
  for (const callback of callbacks) callback();
  request = callbacks.size > 0 ? requestAnimationFrame(run) : 0;
}

/**
 * Calls back on every frame while the component is mounted, all components in one loop. For what
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
