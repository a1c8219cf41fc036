import type { Point } from './find-points';
import { median } from './median';

/** How a home recording's clock runs against the session clock. */
export interface HomeClock {
  /** Home samples beyond one for each session sample, summed from the session's first sample to `at`. */
  ahead(at: number): number;
  /** The mean over the whole, parts per million. */
  driftPpm: number;
}

const RATE = 48000;
/** Pairs of windows this far apart say how fast one clock runs against the other, s. */
const PAIR_SECONDS = [4, 24];
/** Clocks of sound hardware differ by less. */
const MOST_DRIFT = 300e-6;
/** The drift is told every so often, from the pairs around: s. */
const KNOT_SECONDS = 300;
const FEWEST_PAIRS = 40;
/** A pair further from the usual drift than this has a jump of the line between its windows. */
const SAME_DRIFT = 15e-6;

/**
 * The drift that most pairs of near windows agree on, every five minutes: jumps of the line's delay between the two of a
 * pair fall out of the median, and a clock that changes with the warmth of its machine is followed.
 */
export function clockFrom(points: readonly Point[], lineSamples: number): HomeClock {
  const between: { at: number; slope: number }[] = [];
  for (let a = 0; a < points.length; a++) {
    for (let b = a + 1; b < points.length; b++) {
      const samples = points[b].at - points[a].at;
      if (samples > PAIR_SECONDS[1] * RATE) break;
      const slope = (points[b].offset - points[a].offset) / samples;
      if (samples >= PAIR_SECONDS[0] * RATE && Math.abs(slope) < MOST_DRIFT) between.push({ at: (points[a].at + points[b].at) / 2, slope });
    }
  }
  const all = between.length === 0 ? 0 : median(between.map(({ slope }) => slope));
  // Jumps would pull the median towards where more of them fall.
  const pairs = between.filter(({ slope }) => Math.abs(slope - all) < SAME_DRIFT);
  const knot = KNOT_SECONDS * RATE;
  const slopes = Array.from({ length: Math.ceil(lineSamples / knot) + 1 }, (_, k) => {
    const near = pairs.filter(({ at }) => Math.abs(at - k * knot) < knot);
    return near.length < FEWEST_PAIRS ? all : median(near.map(({ slope }) => slope));
  });
  // Between two knots the slope moves evenly; its sum is kept at each.
  const sums = [0];
  for (let k = 1; k < slopes.length; k++) sums.push(sums[k - 1] + ((slopes[k - 1] + slopes[k]) / 2) * knot);
  const ahead = (at: number): number => {
    const place = at / knot;
    const k = Math.max(0, Math.min(slopes.length - 2, Math.floor(place)));
    const share = place - k;
    return sums[k] + knot * (share * slopes[k] + (share * share * (slopes[k + 1] - slopes[k])) / 2);
  };
  return { ahead, driftPpm: lineSamples > 0 ? (ahead(lineSamples) / lineSamples) * 1e6 : 0 };
}
