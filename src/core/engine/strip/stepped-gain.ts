import type { Stereo } from '../../kernel/stereo';
import type { Insert } from './insert';

/** How a gain follows a level. */
export interface GainLaw {
  /** The gain to be at in {@link STEP} samples, linear, where the mean square now is this. */
  next(meanSquare: number): number;
  reset(): void;
}

/** A gain is worked out so often, samples, and moves in a straight line between. */
export const STEP = 16;
/** Far below the last bit of 24. */
const SILENT = 1e-20;

/** Share of a step of `samples` that is gone through in them, where 63 % take so many seconds. */
export const approach = (seconds: number, samples: number, sampleRate: number): number => 1 - Math.exp(-samples / (seconds * sampleRate));

/** Follows the level of a sound and moves both its sides by one gain. It is no later than what comes in. */
export class SteppedGain implements Insert {
  readonly delay = 0;
  readonly #law: GainLaw;
  readonly #smoothing: number;
  #meanSquare = 0;
  #gain = 1;
  #gainStep = 0;
  #inStep = 0;

  /** @param levelSeconds over which the level is averaged (one pole) */
  constructor(law: GainLaw, levelSeconds: number, sampleRate: number) {
    this.#law = law;
    this.#smoothing = approach(levelSeconds, 1, sampleRate);
  }

  reset(): void {
    this.#law.reset();
    this.#meanSquare = this.#gainStep = this.#inStep = 0;
    this.#gain = 1;
  }

  process({ left, right }: Stereo, length: number): void {
    const smoothing = this.#smoothing;
    let meanSquare = this.#meanSquare;
    let gain = this.#gain;
    let inStep = this.#inStep;
    let gainStep = this.#gainStep;
    for (let i = 0; i < length; ) {
      if (inStep === 0) gainStep = (this.#law.next(meanSquare) - gain) / STEP;
      const until = Math.min(length, i + STEP - inStep);
      inStep = (inStep + until - i) % STEP;
      for (; i < until; i++) {
        const l = left[i];
        const r = right[i];
        meanSquare += smoothing * (0.5 * (l * l + r * r) - meanSquare);
        gain += gainStep;
        left[i] = l * gain;
        right[i] = r * gain;
      }
    }
    this.#meanSquare = meanSquare < SILENT ? 0 : meanSquare;
    this.#gain = gain;
    this.#inStep = inStep;
    this.#gainStep = gainStep;
  }
}
