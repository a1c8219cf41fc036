import { BiquadFilter, highPass, highShelf, type Biquad } from '../../dsp/biquad';
import { powerToDb } from '../../dsp/decibels';
import { deEsserGainDb } from '../../strip/curves';
import { CLOSED_STRIP, STRIP_RANGES, type StripSettings } from '../../strip/settings';
import type { Stereo } from '../../kernel/stereo';
import type { Insert } from './insert';
import { approach, STEP } from './stepped-gain';

const LEVEL_SECONDS = 0.004;
const ATTACK_SECONDS = 0.002;
const RELEASE_SECONDS = 0.04;
/** Below, dBFS of the band, nothing hisses that anybody would hear. */
const QUIET_DB = -65;
/** Shelves are kept ready in steps so fine, a dB, so that none is made while sound runs. */
const SHELVES_A_DB = 10;

const NOTHING: Biquad = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };

/** A high shelf that goes down while a voice hisses: measured against the voice itself, so that it does not depend on how loud somebody is. */
export class DeEsser implements Insert {
  readonly delay = 0;
  readonly #sampleRate: number;
  readonly #level: number;
  readonly #attack: number;
  readonly #release: number;
  readonly #band: BiquadFilter;
  readonly #left: BiquadFilter;
  readonly #right: BiquadFilter;
  #settings = CLOSED_STRIP.deEsser;
  /** By how far down they go. */
  #shelves: Biquad[] = [];
  #wholePower = 0;
  #bandPower = 0;
  #gainDb = 0;
  #leastDb = 0;
  #inStep = 0;

  constructor(sampleRate: number) {
    this.#sampleRate = sampleRate;
    this.#level = approach(LEVEL_SECONDS, 1, sampleRate);
    this.#attack = approach(ATTACK_SECONDS, STEP, sampleRate);
    this.#release = approach(RELEASE_SECONDS, STEP, sampleRate);
    this.#band = new BiquadFilter(highPass(this.#settings.hz, sampleRate));
    this.#left = new BiquadFilter(NOTHING);
    this.#right = new BiquadFilter(NOTHING);
  }

  set(settings: StripSettings['deEsser']): void {
    if (settings.hz !== this.#settings.hz || this.#shelves.length === 0) {
      this.#band.set(highPass(settings.hz, this.#sampleRate));
      const most = STRIP_RANGES.deEsser.rangeDb[1] * SHELVES_A_DB;
      this.#shelves = Array.from({ length: most + 1 }, (_, k) => highShelf(settings.hz, -k / SHELVES_A_DB, this.#sampleRate));
    }
    this.#settings = settings;
  }

  reset(): void {
    for (const filter of [this.#band, this.#left, this.#right]) filter.reset();
    this.#wholePower = this.#bandPower = this.#gainDb = this.#leastDb = this.#inStep = 0;
  }

  process({ left, right }: Stereo, length: number): void {
    for (let i = 0; i < length; i++) {
      const middle = (left[i] + right[i]) / 2;
      const hiss = this.#band.next(middle);
      this.#wholePower += this.#level * (middle * middle - this.#wholePower);
      this.#bandPower += this.#level * (hiss * hiss - this.#bandPower);
      if (this.#inStep === 0) this.#move();
      this.#inStep = (this.#inStep + 1) % STEP;
      left[i] = this.#left.next(left[i]);
      right[i] = this.#right.next(right[i]);
    }
  }

  #move(): void {
    const bandDb = powerToDb(this.#bandPower + 1e-12);
    const wanted = bandDb < QUIET_DB ? 0 : deEsserGainDb(bandDb - powerToDb(this.#wholePower + 1e-12), this.#settings);
    this.#gainDb += (wanted < this.#gainDb ? this.#attack : this.#release) * (wanted - this.#gainDb);
    if (this.#gainDb < this.#leastDb) this.#leastDb = this.#gainDb;
    const shelf = this.#shelves[Math.round(-this.#gainDb * SHELVES_A_DB)];
    this.#left.set(shelf);
    this.#right.set(shelf);
  }

  /** The most it turned down since this was last asked, dB. */
  takeLeastDb(): number {
    const least = this.#leastDb;
    this.#leastDb = this.#gainDb;
    return least;
  }
}
