import { ENTRY_WORDS, MOST_ENTRIES } from './take-log';

/** Columns of the live trace that are kept: 512 × 1024 samples, about 11 s. */
export const TRACE_COLUMNS = 512;
/** Blocks of 128 samples between two readings of the meters. */
export const BLOCKS_PER_READING = 8;
/** Sounds whose position is shown. */
export const MOST_SOUNDS = 96;

/**
 * What the audio thread shows and the page reads, in shared memory: no message per reading, and
 * nothing to wait for. Values are written one by one; a reader may see two readings mixed, which a
 * meter does not mind.
 */
export interface StatusBoard {
  readonly memory: SharedArrayBuffer;
  /** Session clock in samples, session clock at the start of the call (-1), frames recorded, ms spent mixing. */
  readonly clocks: Float64Array;
  /** Number of readings so far; the newest trace column is `(readings - 1) % TRACE_COLUMNS`. */
  readonly readings: Int32Array;
  readonly sourcePeak: Float32Array;
  readonly sourceRms: Float32Array;
  /** Short-term loudness, LUFS. */
  readonly sourceLoudness: Float32Array;
  /** By how much the voices hold each source down, linear. */
  readonly duckGain: Float32Array;
  /** The most each insert that turns down did so lately, dB: {@link REDUCTIONS} a source. */
  readonly reduction: Float32Array;
  readonly listenerPeak: Float32Array;
  readonly listenerRms: Float32Array;
  readonly limitedSamples: Float32Array;
  /** Position of each sound in samples, or -1; in the order the sounds were added. */
  readonly soundPosition: Float32Array;
  /** What was in force and what was played at which sample of a take: read it with {@link createLogReader}. */
  readonly log: Float64Array;
  /** Entries in `log` so far. */
  readonly counters: Int32Array;
  /** Peak of each source per column: `trace[source * TRACE_COLUMNS + column]`. */
  readonly trace: Float32Array;
}

export const CLOCK = 0;
export const CALL_START = 1;
export const RECORDED_FRAMES = 2;
export const BUSY_MS = 3;
/** Position of the sound that is listened to first, samples; -1 for none. */
export const CUE_POSITION = 4;
/** Loudness, behind its strip, of the source that is compared, LUFS. */
export const COMPARED_LOUDNESS = 5;

/** Places in `reduction` for each source: gate, compressor, de-esser, limiter. */
export const REDUCTIONS = 4;

/** Place in `counters`. */
export const LOGGED = 0;

const CLOCKS = 6;
const LOG_AT = CLOCKS * 8;
const COUNTERS_AT = LOG_AT + MOST_ENTRIES * ENTRY_WORDS * 8;
/** Where the floats begin: behind the clocks, the log, the number of readings and the counters. */
const FLOATS_AT = COUNTERS_AT + 16;

export function statusBoardBytes(sources: number, listeners: number): number {
  return FLOATS_AT + 4 * ((4 + REDUCTIONS) * sources + 3 * listeners + MOST_SOUNDS + sources * TRACE_COLUMNS);
}

/** Lays the board over shared memory of {@link statusBoardBytes}. */
export function statusBoard(memory: SharedArrayBuffer, sources: number, listeners: number): StatusBoard {
  let at = FLOATS_AT;
  const floats = (count: number): Float32Array => {
    const view = new Float32Array(memory, at, count);
    at += count * 4;
    return view;
  };
  return {
    memory,
    clocks: new Float64Array(memory, 0, CLOCKS),
    log: new Float64Array(memory, LOG_AT, MOST_ENTRIES * ENTRY_WORDS),
    readings: new Int32Array(memory, COUNTERS_AT, 1),
    counters: new Int32Array(memory, COUNTERS_AT + 4, 1),
    sourcePeak: floats(sources),
    sourceRms: floats(sources),
    sourceLoudness: floats(sources),
    duckGain: floats(sources),
    reduction: floats(REDUCTIONS * sources),
    listenerPeak: floats(listeners),
    listenerRms: floats(listeners),
    limitedSamples: floats(listeners),
    soundPosition: floats(MOST_SOUNDS),
    trace: floats(sources * TRACE_COLUMNS),
  };
}
