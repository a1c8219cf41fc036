import { useEffect, useRef } from 'react';
import { calmMotion } from '@/live/paint/calm-motion';
import { createFrameLoop } from './frame-loop';

const loop = createFrameLoop({
  now: () => performance.now(),
  beforeFrame: (call) => void requestAnimationFrame(call),
  later: (call, milliseconds) => void setTimeout(call, milliseconds),
  calm: () => calmMotion().matches,
});

function useLoop(join: (callback: () => void) => () => void, callback: () => void): void {
  const latest = useRef(callback);
  useEffect(() => {
    latest.current = callback;
  });
  useEffect(() => join(() => latest.current()), [join]);
}

/**
 * Calls back before a frame while the component is mounted, all components in one loop: about thirty times a second,
 * eight where little is to move, and less often where the machine has no time for it. For what moves: drawn straight to the element, never through React's state.
 */
export function useFrame(callback: () => void): void {
  useLoop(loop.onMove, callback);
}

/** The same for numbers and words: about five times a second. */
export function useReading(callback: () => void): void {
  useLoop(loop.onRead, callback);
}
