type Callback = () => void;

/** Time as a page has it; replaced in tests. */
export interface FrameClock {
  now(): number;
  /** Calls before the browser's next frame. */
  beforeFrame(call: Callback): void;
  later(call: Callback, milliseconds: number): void;
  /** Whether whoever looks wants little to move. */
  calm(): boolean;
}

/** Calls those who draw, all in one frame, for as long as there are any. Each way in returns the way out. */
export interface FrameLoop {
  /** For what moves. */
  onMove(callback: Callback): Callback;
  /** For numbers and words. */
  onRead(callback: Callback): Callback;
}

/** Meters are drawn some thirty times a second: nobody sees more, and the sound needs the machine. */
const BETWEEN_MS = 25;
/** Where little is to move. */
const BETWEEN_CALM_MS = 125;
/** Numbers and words that change faster than this are not read, and each change makes the page lay itself out anew. */
const READ_MS = 200;
/** So many times as long as a frame took nothing is drawn: three quarters of the page's time are left to hands. */
const REST = 3;

export function createFrameLoop(clock: FrameClock): FrameLoop {
  const moving = new Set<Callback>();
  const reading = new Set<Callback>();
  let running = false;
  let readAt = -Infinity;

  const draw = (): void => {
    const began = clock.now();
    for (const callback of moving) callback();
    if (began - readAt >= READ_MS) {
      readAt = began;
      for (const callback of reading) callback();
    }
    running = moving.size + reading.size > 0;
    // Called once the browser has laid out and painted: only then it is known what the frame cost.
    if (running) clock.later(() => rest(clock.now() - began), 0);
  };
  /** A frame that was asked for is drawn even if nothing moves in it, so the next one is asked for only when it is wanted. */
  const rest = (costMs: number): void => clock.later(() => clock.beforeFrame(draw), Math.max((clock.calm() ? BETWEEN_CALM_MS : BETWEEN_MS) - costMs, REST * costMs));

  const add = (callbacks: Set<Callback>, callback: Callback): Callback => {
    callbacks.add(callback);
    if (!running) clock.beforeFrame(draw);
    running = true;
    return () => void callbacks.delete(callback);
  };
  return { onMove: (callback) => add(moving, callback), onRead: (callback) => add(reading, callback) };
}
