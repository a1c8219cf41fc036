import { dbToGain } from '../dsp/decibels';

/** Highest sample a listener is ever sent. */
export const CEILING_DBFS = -1;
const RELEASE_SECONDS = 0.08;

/**
 * A safety limiter with no delay: it comes down within the sample that needs it and recovers
 * smoothly. Below the ceiling it passes every sample unchanged, bit for bit; look-ahead would be
 * gentler on overloads but would make every return later, and this one should never be working.
 */
export interface Limiter {
  /**
   * Limits both channels in place by one common gain, so that the image does not move. `peak` is
   * the block's own peak, already measured.
   */
  process(left: Float32Array, right: Float32Array, length: number, peak: number): void;
  /** Samples that were turned down since the limiter was made. */
  limitedSamples(): number;
}

export function createLimiter(sampleRate: number): Limiter {
  const ceiling = dbToGain(CEILING_DBFS);
  const recovery = 1 - Math.exp(-1 / (RELEASE_SECONDS * sampleRate));
  const state = { gain: 1 };
  let limited = 0;
  return {
    process(left, right, length, peak) {
      let gain = state.gain;
      if (gain === 1 && peak <= ceiling) return;
      for (let i = 0; i < length; i++) {
        const level = Math.max(Math.abs(left[i]), Math.abs(right[i]));
        gain += (1 - gain) * recovery;
        if (gain > 0.99999) gain = 1;
        if (level * gain > ceiling) gain = ceiling / level;
        if (gain < 1) limited++;
        left[i] *= gain;
        right[i] *= gain;
      }
      state.gain = gain;
    },
    limitedSamples: () => limited,
  };
}
