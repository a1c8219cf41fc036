import { truePeakBeside } from '../measure/true-peak';
import { dbToGain } from './decibels';

/** How far it looks ahead: 5 ms. */
const AHEAD = 240;
/** Time in which a gain that was taken comes back to 63 %. */
const RELEASE_SECONDS = 0.12;
/** Between measuring points a little more can hide. */
const MARGIN_DB = 0.1;
const RATE = 48000;
/** Samples on either side that the interpolation reads. */
const REACH = 32;

/**
 * Holds the true peak of a finished mix under a ceiling: for mixes that are made afterwards, where being
 * 5 ms later costs nothing. The gain reaches every peak's need before the peak and is averaged over the
 * same time, so that it never steps.
 */
export interface TruePeakLimiter {
  /** Channels of one length. What comes out is later by {@link LIMITER_DELAY} samples. */
  process(channels: readonly Float32Array[]): Float32Array<ArrayBuffer>[];
  /** The most it took away, dB. */
  mostTakenDb(): number;
}

export const LIMITER_DELAY = AHEAD + REACH;

/** @param ceilingDb dBTP @param gainDb applied before */
export function createTruePeakLimiter(channelCount: number, ceilingDb: number, gainDb: number): TruePeakLimiter {
  const ceiling = dbToGain(ceilingDb - MARGIN_DB);
  const gain = dbToGain(gainDb);
  const release = 1 - Math.exp(-1 / (RELEASE_SECONDS * RATE));
  /** The last 2 · REACH samples of the interpolation, and those that wait for their gain. */
  const history = Array.from({ length: channelCount }, () => new Float32Array(2 * REACH));
  const waiting = Array.from({ length: channelCount }, () => new Float32Array(AHEAD + REACH));
  const needed = new Float32Array(AHEAD + 1).fill(1);
  const held = new Float32Array(AHEAD + 1).fill(1);
  let heldSum = AHEAD + 1;
  let place = 0;
  let waitPlace = 0;
  let least = 1;
  let lowest = 1;
  let current = 1;

  /** The gain that the middle of the 64 samples from `at` on needs. */
  const need = (stretches: readonly Float32Array[], at: number): number => {
    let peak = 0;
    for (const samples of stretches) peak = Math.max(peak, truePeakBeside(samples, at, ceiling));
    return peak > ceiling ? ceiling / peak : 1;
  };

  const push = (value: number): void => {
    const leaving = needed[place];
    needed[place] = value;
    if (value <= lowest) lowest = value;
    else if (leaving === lowest) lowest = needed.reduce((low, one) => Math.min(low, one), 1);
    current = lowest < current ? lowest : current + (lowest - current) * release;
    heldSum += current - held[place];
    held[place] = current;
    place = (place + 1) % needed.length;
  };

  return {
    process(channels) {
      const { length } = channels[0];
      const out = channels.map(() => new Float32Array(length));
      const stretches = channels.map((samples, c) => {
        const stretch = new Float32Array(2 * REACH + length);
        stretch.set(history[c]);
        for (let i = 0; i < length; i++) stretch[2 * REACH + i] = samples[i] * gain;
        history[c].set(stretch.subarray(length));
        return stretch;
      });
      for (let i = 0; i < length; i++) {
        push(need(stretches, i + 1));
        const average = Math.min(1, heldSum / held.length);
        least = Math.min(least, average);
        for (let c = 0; c < channelCount; c++) {
          out[c][i] = waiting[c][waitPlace] * average;
          waiting[c][waitPlace] = stretches[c][2 * REACH + i];
        }
        waitPlace = (waitPlace + 1) % waiting[0].length;
      }
      return out;
    },
    mostTakenDb: () => -20 * Math.log10(least),
  };
}
