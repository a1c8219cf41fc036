import type { SeatId } from './ids';

/** A source or an outlet can be delayed by hand for as long, ms. */
export const MOST_OFFSET_MS = 2000;

/** How a source goes under the voices by itself. */
export interface Ducking {
  on: boolean;
  /** Whose speech takes it down; everybody's where it is null. */
  under: SeatId[] | null;
  /** From which level of a voice on, dBFS. */
  thresholdDb: number;
  depthDb: number;
  attackMs: number;
  holdMs: number;
  releaseMs: number;
}
