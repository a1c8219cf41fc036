import { CLOSED_STRIP, type StripSettings } from '../../strip/settings';
import { STEP, type GainLaw } from './stepped-gain';

/** Over which the level is averaged: short, so that no word begins late. */
export const GATE_LEVEL_SECONDS = 0.003;
/** It opens at the threshold and closes so far below it, so that it does not flutter. */
export const HYSTERESIS_DB = 4;

const dbToPower = (db: number): number => 10 ** (db / 10);

/** A gate's gain: 0 dB while somebody speaks and for the hold after, then down by the range. It moves evenly in dB. */
export class GateLaw implements GainLaw {
  readonly #sampleRate: number;
  #settings = CLOSED_STRIP.gate;
  #opensAt = 0;
  #closesAt = 0;
  /** Samples. */
  #hold = 0;
  /** dB a step. */
  #up = 0;
  #down = 0;
  #open = true;
  #holdLeft = 0;
  #gainDb = 0;
  #leastDb = 0;
  #gain = 1;

  constructor(sampleRate: number) {
    this.#sampleRate = sampleRate;
    this.set(this.#settings);
  }

  set(settings: StripSettings['gate']): void {
    const { thresholdDb, rangeDb, attackMs, holdMs, releaseMs } = (this.#settings = settings);
    this.#opensAt = dbToPower(thresholdDb);
    this.#closesAt = dbToPower(thresholdDb - HYSTERESIS_DB);
    this.#hold = (holdMs / 1000) * this.#sampleRate;
    this.#up = (rangeDb * STEP * 1000) / (attackMs * this.#sampleRate);
    this.#down = (rangeDb * STEP * 1000) / (releaseMs * this.#sampleRate);
  }

  /** It begins open, so that nobody is cut off by its being switched on. */
  reset(): void {
    this.#open = true;
    this.#holdLeft = this.#hold;
    this.#gainDb = this.#leastDb = 0;
    this.#gain = 1;
  }

  next(meanSquare: number): number {
    this.#open = meanSquare >= this.#opensAt || (this.#open && meanSquare >= this.#closesAt);
    this.#holdLeft = this.#open ? this.#hold : this.#holdLeft - STEP;
    const before = this.#gainDb;
    if (this.#holdLeft > 0 || this.#open) this.#gainDb = Math.min(0, before + this.#up);
    else this.#gainDb = Math.max(-this.#settings.rangeDb, before - this.#down);
    if (this.#gainDb < this.#leastDb) this.#leastDb = this.#gainDb;
    if (this.#gainDb !== before) this.#gain = 10 ** (this.#gainDb / 20);
    return this.#gain;
  }

  /** The most it turned down since this was last asked, dB. */
  takeLeastDb(): number {
    const least = this.#leastDb;
    this.#leastDb = this.#gainDb;
    return least;
  }
}
