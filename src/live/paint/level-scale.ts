import { BLOCKS_PER_READING, TRACE_COLUMNS, type StatusBoard } from '../worklet/status-board';

/** The quietest level that meters show, dBFS. */
export const FLOOR_DB = -48;
/** From here on there is too little room left above the voice. */
export const HOT_DBFS = -3;
/** So long a peak stays marked. */
export const HELD_MS = 2000;
/** Where a voice should be, dBFS of its peaks: the scale's quiet green. */
export const LEVEL_TARGET = { from: -24, to: -9 };
/** Levels that are marked on a scale, dBFS. */
export const SCALE_MARKS = [-36, -18, -6];

/** Where a level stands on a meter, 0 to 1. */
export const levelShare = (db: number): number => Math.min(1, Math.max(0, 1 - db / FLOOR_DB));

/** Between two readings of the meters. */
export const COLUMN_MS = (1000 * BLOCKS_PER_READING * 128) / 48_000;

/** The highest peak of the last moments, dBFS. */
export function heldPeakDb({ readings, trace }: StatusBoard, slot: number): number {
  const count = Atomics.load(readings, 0);
  let peak = 0;
  for (let back = 1; back <= Math.min(count, HELD_MS / COLUMN_MS, TRACE_COLUMNS); back++) peak = Math.max(peak, trace[slot * TRACE_COLUMNS + ((count - back) % TRACE_COLUMNS)]);
  return 20 * Math.log10(peak);
}
