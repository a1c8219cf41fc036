import { compareWithLine, type Comparison } from './better-at-home';
import { clockFrom, type HomeClock } from './clock';
import { coarseOffset } from './coarse-offset';
import { findPoints } from './find-points';
import { placementOf, type Placement } from './placement';
import type { TwoRecordings } from './recordings';
import { findStretches, type LineStretch } from './stretches';

/** Where a home recording belongs on the session clock. */
export interface Alignment extends Comparison {
  clock: HomeClock;
  /** The line between the jumps of its delay. */
  stretches: LineStretch[];
  placement: Placement;
  /** Windows of 1.8 s in which both spoke, and how many of them agree with a neighbour on the place. */
  sounding: number;
  agreeing: number;
}

/** With fewer windows that agree, or a smaller share of those in which both spoke, the two are not one voice. */
const FEWEST_AGREEING = 3;
const LEAST_AGREEING_SHARE = 0.3;
const POINTS_SHARE = 0.8;

/**
 * Places a home recording by measuring it against the line: the coarse place by their loudness, windows of 1.8 s by
 * GCC-PHAT, the drift of the clocks from pairs of near windows, and the jumps of the line's delay between them.
 * Null when the two have nothing in common that could be measured.
 */
export async function alignHome(two: TwoRecordings, onProgress?: (share: number) => Promise<void> | void): Promise<Alignment | null> {
  const { points, sounding } = await findPoints(two, await coarseOffset(two), (share) => onProgress?.(POINTS_SHARE * share));
  const clock = clockFrom(points, two.lineSamples);
  const stretches = await findStretches(two, points, clock);
  const agreeing = stretches.reduce((sum, { windows }) => sum + windows, 0);
  if (agreeing < FEWEST_AGREEING || agreeing < LEAST_AGREEING_SHARE * sounding) return null;
  const comparison = await compareWithLine(two, stretches, clock);
  await onProgress?.(1);
  return { clock, stretches, placement: placementOf(stretches, clock), sounding, agreeing, ...comparison };
}
