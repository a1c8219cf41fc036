import { useEffect, useRef } from 'react';

type Callback = () => void;

const moving = new Set<Callback>();
const reading = new Set<Callback>();
let running = false;
let readAt = 0;

/** Meters are drawn some thirty times a second: nobody sees more, and the sound needs the machine. */
const BETWEEN_MS = 25;
/** Numbers and words that change faster than this are not read, and each change makes the page lay itself out anew. */
const READ_MS = 200;
/** So many times as long as a frame took nothing is drawn: three quarters of the page's time are left to hands. */
const REST = 3;

function draw(): void {
  const began = performance.now();
  for (const callback of moving) callback();
  if (began - readAt >= READ_MS) {
    readAt = began;
    for (const callback of reading) callback();
  }
  running = moving.size + reading.size > 0;
  // A frame that was asked for is drawn even if nothing moves in it, so the next one is asked for only when it is wanted.
  if (running) setTimeout(() => rest(performance.now() - began), 0);
}

/** Called once the browser has laid out and painted: only now it is known what the frame cost. */
function rest(costMs: number): void {
  setTimeout(() => requestAnimationFrame(draw), Math.max(BETWEEN_MS - costMs, REST * costMs));
}

function useIn(callbacks: Set<Callback>, callback: Callback): void {
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
  }, [callbacks]);
}

/**
 * Calls back before a frame while the component is mounted, all components in one loop: about thirty times a second, and
 * less often where the machine has no time for it. For what moves: drawn straight to the element, never through React's state.
 */
export function useFrame(callback: Callback): void {
  useIn(moving, callback);
}

/** The same for numbers and words: about five times a second. */
export function useReading(callback: Callback): void {
  useIn(reading, callback);
}
