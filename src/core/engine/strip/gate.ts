import { powerToDb } from '../../dsp/decibels';
import { CLOSED_STRIP, type StripSettings } from '../../strip/settings';
import { STEP, type GainLaw } from './stepped-gain';

/** Over which the level is averaged: short, so that no word begins late. */
export const GATE_LEVEL_SECONDS = 0.003;
/** It opens at the threshold and closes so far below it, so that it does not flutter. */
export const HYSTERESIS_DB = 4;

/** A gate's gain: 0 dB while somebody speaks and for the hold after, then down by the range. It moves evenly in dB. */
export class GateLaw implements GainLaw {
  readonly #sampleRate: number;
  #settings = CLOSED_STRIP.gate;
  #open = true;
  #holdLeft = 0;
  #gainDb = 0;
  #leastDb = 0;

  constructor(sampleRate: number) {
    this.#sampleRate = sampleRate;
  }

  set(settings: StripSettings['gate']): void {
    this.#settings = settings;
  }

  /** It begins open, so that nobody is cut off by its being switched on. */
  reset(): void {
    this.#open = true;
    this.#holdLeft = (this.#settings.holdMs / 1000) * this.#sampleRate;
    this.#gainDb = this.#leastDb = 0;
  }

  next(meanSquare: number): number {
    const { thresholdDb, rangeDb, attackMs, holdMs, releaseMs } = this.#settings;
    const levelDb = powerToDb(meanSquare + 1e-12);
    this.#open = levelDb >= thresholdDb || (this.#open && levelDb >= thresholdDb - HYSTERESIS_DB);
    this.#holdLeft = this.#open ? (holdMs / 1000) * this.#sampleRate : this.#holdLeft - STEP;
    const perStep = (ms: number) => (rangeDb * STEP * 1000) / (ms * this.#sampleRate);
    if (this.#holdLeft > 0 || this.#open) this.#gainDb = Math.min(0, this.#gainDb + perStep(attackMs));
    else this.#gainDb = Math.max(-rangeDb, this.#gainDb - perStep(releaseMs));
    if (this.#gainDb < this.#leastDb) this.#leastDb = this.#gainDb;
    return 10 ** (this.#gainDb / 20);
  }

  /** The most it turned down since this was last asked, dB. */
  takeLeastDb(): number {
    const least = this.#leastDb;
    this.#leastDb = this.#gainDb;
    return least;
  }
}
