/**
 * Stereo sound on its way from one thread with a clock of its own to another, in shared memory: one writer, one reader.
 * Positions are counted in frames and wrap at 2^32; what the reader finds out about the other clock is written here too.
 */
export interface SoundRing {
  readonly memory: SharedArrayBuffer;
  readonly counters: Int32Array;
  readonly facts: Float64Array;
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/** Frames a ring holds: 1.37 s at 48 kHz. */
export const RING_FRAMES = 65_536;

/** Places in `counters`. */
export const WRITTEN = 0;
/** Rate the writer says it has, Hz; 0 before it did. */
export const RATE = 1;
/** 1 while something is measured through the ring: too much or too little delay is left as it is. */
export const STILL = 2;
/** How often sound has begun to flow, or ceased to: the first began, the second ceased, and so on. Written by the reader. */
export const TURNS = 3;
const COUNTERS = 8;

/** Places in `facts`: by the writer, then by the reader. */
export const LAST_WRITE_MS = 0;
/** Mean of what waits in the ring, frames. */
export const WAITING = 1;
/** How much faster than the reader's the writer's clock is, ppm; NaN while it is not known. */
export const DRIFT_PPM = 2;
/** Frames that were evened out by resampling: taken out, or (below 0) put in. */
export const EVENED = 3;
/** Frames the reader had to leave silent, or to leave out. */
export const LOST = 4;
/** How often that was. */
export const GLITCHES = 5;
/** 1 while sound flows. */
export const FLOWING = 6;
/** Peak of what was read since somebody looked (and set it to 0), linear. */
export const PEAK = 7;
/**
 * How late each end's sound is against the time of day (time less the sound so far, ms, from any beginning), where somebody
 * knows it better than by when pieces came: from the stamps of a capture, or from where an output says it is. NaN until then.
 */
export const WRITER_LATE_MS = 8;
export const READER_LATE_MS = 9;
/** The reader's clock at each of the last {@link TURNS_KEPT} turns, frames: turn `n` at `TURN_AT + n % TURNS_KEPT`. */
export const TURN_AT = 10;
export const TURNS_KEPT = 16;
const FACTS = TURN_AT + TURNS_KEPT;

const HEAD_BYTES = 4 * COUNTERS + 8 * FACTS;

export function newSoundRing(): SoundRing {
  const ring = soundRing(new SharedArrayBuffer(HEAD_BYTES + 2 * 4 * RING_FRAMES));
  ring.facts[WRITER_LATE_MS] = ring.facts[READER_LATE_MS] = NaN;
  return ring;
}

export const soundRing = (memory: SharedArrayBuffer): SoundRing => ({
  memory,
  counters: new Int32Array(memory, 0, COUNTERS),
  facts: new Float64Array(memory, 4 * COUNTERS, FACTS),
  left: new Float32Array(memory, HEAD_BYTES, RING_FRAMES),
  right: new Float32Array(memory, HEAD_BYTES + 4 * RING_FRAMES, RING_FRAMES),
});

/** Notes that sound begins or ceases to flow, whichever it did not last. */
export function noteTurn({ counters, facts }: SoundRing, clock: number): void {
  const turn = counters[TURNS];
  facts[TURN_AT + (turn % TURNS_KEPT)] = clock;
  Atomics.store(counters, TURNS, turn + 1);
}

/**
 * Goes through the turns since somebody looked last, oldest first: sound began to flow, or ceased to, at a clock in frames.
 * @param seen turns that were looked at before
 * @returns how many have been looked at now
 */
export function followTurns({ counters, facts }: SoundRing, seen: number, turned: (flowing: boolean, clock: number, turn: number) => void): number {
  const turns = Atomics.load(counters, TURNS);
  for (let turn = Math.max(seen, turns - TURNS_KEPT); turn < turns; turn++) turned(turn % 2 === 0, facts[TURN_AT + (turn % TURNS_KEPT)], turn);
  return turns;
}

/**
 * Appends a block. Nothing waits: a reader that is more than the ring behind loses the oldest.
 * @param nowMs the time of day, `Date.now()`
 */
export function writeSound({ counters, facts, left, right }: SoundRing, newLeft: Float32Array, newRight: Float32Array, length: number, nowMs: number): void {
  const at = counters[WRITTEN];
  for (let i = 0; i < length; i++) {
    const place = (at + i) & (RING_FRAMES - 1);
    left[place] = newLeft[i];
    right[place] = newRight[i];
  }
  facts[LAST_WRITE_MS] = nowMs;
  Atomics.store(counters, WRITTEN, (at + length) | 0);
}
