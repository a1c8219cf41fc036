import { powerToDb } from '../../dsp/decibels';
import { compressorGainDb } from '../../strip/curves';
import { CLOSED_STRIP, type StripSettings } from '../../strip/settings';
import { approach, STEP, type GainLaw } from './stepped-gain';

/** Over which the level is averaged. */
export const LEVEL_SECONDS = 0.01;
/** A make-up that is changed moves in this. */
const MAKE_UP_SECONDS = 0.02;

/** A compressor's gain: the static curve of the level, reached by attack and release, which are the times for 63 % of the way in dB. */
export class CompressorLaw implements GainLaw {
  readonly #sampleRate: number;
  readonly #makeUpShare: number;
  #settings = CLOSED_STRIP.compressor;
  #attack = 0;
  #release = 0;
  #gainDb = 0;
  #makeUpDb = 0;
  #leastDb = 0;

  constructor(sampleRate: number) {
    this.#sampleRate = sampleRate;
    this.#makeUpShare = approach(MAKE_UP_SECONDS, STEP, sampleRate);
    this.set(this.#settings);
  }

  set(settings: StripSettings['compressor']): void {
    this.#settings = settings;
    this.#attack = approach(settings.attackMs / 1000, STEP, this.#sampleRate);
    this.#release = approach(settings.releaseMs / 1000, STEP, this.#sampleRate);
  }

  reset(): void {
    this.#gainDb = this.#leastDb = 0;
    this.#makeUpDb = this.#settings.makeUpDb;
  }

  next(meanSquare: number): number {
    const wanted = compressorGainDb(powerToDb(meanSquare + 1e-12), this.#settings);
    this.#gainDb += (wanted < this.#gainDb ? this.#attack : this.#release) * (wanted - this.#gainDb);
    this.#makeUpDb += this.#makeUpShare * (this.#settings.makeUpDb - this.#makeUpDb);
    if (this.#gainDb < this.#leastDb) this.#leastDb = this.#gainDb;
    return 10 ** ((this.#gainDb + this.#makeUpDb) / 20);
  }

  /** The most it turned down since this was last asked, make-up not counted, dB. */
  takeLeastDb(): number {
    const least = this.#leastDb;
    this.#leastDb = this.#gainDb;
    return least;
  }
}
