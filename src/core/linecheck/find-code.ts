import { createFft } from '../dsp/fft';
import { PERIOD_16K, type Code } from './codes';
import type { WindowSpectrum } from './window-spectrum';

/** Lags are looked at every eighth of a millisecond: the band is narrow enough for half the samples. */
const LAGS = PERIOD_16K / 2;
const LAG_MS = 1000 / 8000;
/** The longest way that is looked at, ms. Later than that it would be the next period's beginning. */
export const LONGEST_MS = 900;
/** A buffer that jumps in between costs this much of certainty: about what the best of all lags has by chance. */
const JUMP_COSTS = 10;
/** More than this is no chance, for all probes of all microphones of a check together. */
const CERTAIN = 36;

export interface CodeFound {
  /** Delay in each window, ms. */
  delayMs: number[];
  /** Logarithm of how unlikely it is that this is chance, about. */
  certainty: number;
}

const fft = createFft(LAGS);
const sumRe = new Float64Array(LAGS);
const sumIm = new Float64Array(LAGS);
/** Every so manyth lag is enough to know what chance gives. */
const SAMPLED = 4;
const sampled = new Float64Array(LAGS / SAMPLED);

/** How much of a code arrives at each lag, over what chance gives on average (an exponential distribution of mean 1). */
function arrivals({ bins, re, im }: Code, window: WindowSpectrum): Float64Array {
  sumRe.fill(0);
  sumIm.fill(0);
  for (let k = 0; k < bins.length; k++) {
    const bin = bins[k];
    sumRe[bin] = window.re[bin] * re[k] + window.im[bin] * im[k];
    sumIm[bin] = window.im[bin] * re[k] - window.re[bin] * im[k];
  }
  fft.inverse(sumRe, sumIm);
  const power = new Float64Array(LAGS);
  for (let lag = 0; lag < LAGS; lag++) power[lag] = sumRe[lag] * sumRe[lag] + sumIm[lag] * sumIm[lag];
  for (let k = 0; k < sampled.length; k++) sampled[k] = power[k * SAMPLED];
  const middle = sampled.sort()[sampled.length >> 1];
  if (middle === 0) return power.fill(0);
  for (let lag = 0; lag < LAGS; lag++) power[lag] *= Math.LN2 / middle;
  return power;
}

/**
 * Looks for a code in whole periods of a whitened signal. The buffer of a line may jump between two periods; each jump
 * that is needed costs certainty.
 * @param windows spectra of periods that do not overlap
 * @param startsAt where each of them begins after the beginning of the code, ms
 * @param longestMs the longest delay that is looked at
 */
export function findCode(code: Code, windows: readonly WindowSpectrum[], startsAt: readonly number[], longestMs = LONGEST_MS): CodeFound | null {
  const most = Math.min(LAGS, Math.floor(longestMs / LAG_MS));
  const scores = windows.map((window, w) => {
    const all = arrivals(code, window);
    // The code began before the window did: what arrives at a lag of the window is later by that.
    const shift = Math.round(startsAt[w] / LAG_MS);
    const own = new Float64Array(most);
    for (let lag = 0; lag < most; lag++) own[lag] = all[(((lag - shift) % LAGS) + LAGS) % LAGS];
    return own;
  });
  const path = bestPath(scores);
  if (path.certainty < CERTAIN) return null;
  return { certainty: path.certainty, delayMs: path.lags.map((lag) => lag * LAG_MS) };
}

/** The lag of each window that fits best, where staying is free and a jump is not (Viterbi, 1967). */
function bestPath(scores: readonly Float64Array[]): { lags: number[]; certainty: number } {
  const most = scores[0].length;
  let total = Float64Array.from(scores[0]);
  const cameFrom: Int32Array[] = [];
  for (let w = 1; w < scores.length; w++) {
    const best = strongest(total);
    const from = new Int32Array(most);
    const next = new Float64Array(most);
    for (let lag = 0; lag < most; lag++) {
      // A clock that runs a little faster moves it by one place.
      let stay = lag;
      if (lag > 0 && total[lag - 1] > total[stay]) stay = lag - 1;
      if (lag + 1 < most && total[lag + 1] > total[stay]) stay = lag + 1;
      const jumps = total[best] - JUMP_COSTS > total[stay];
      from[lag] = jumps ? best : stay;
      next[lag] = scores[w][lag] + (jumps ? total[best] - JUMP_COSTS : total[stay]);
    }
    cameFrom.push(from);
    total = next;
  }
  let lag = strongest(total);
  const certainty = total[lag];
  const lags = [lag];
  for (let w = cameFrom.length - 1; w >= 0; w--) lags.unshift((lag = cameFrom[w][lag]));
  return { lags, certainty };
}

function strongest(values: Float64Array): number {
  let best = 0;
  for (let k = 1; k < values.length; k++) if (values[k] > values[best]) best = k;
  return best;
}
