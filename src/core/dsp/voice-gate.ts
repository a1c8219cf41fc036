import { BiquadFilter, highPass, lowPass } from './biquad';
import { powerToDb } from './decibels';

/** Over how long energy is averaged. */
const SMOOTH_SECONDS = 0.008;
/** A voice must last for so long without falling by so much; a knock on the table does not. */
const CONFIRM_SECONDS = 0.03;
const KNOCK_FALL = 10 ** (-9 / 10);
/** Vowels have more below 1.2 kHz than above 3.5 kHz, by this much at least; breath and hiss have not. */
const VOWEL_DB = 6;
/** A voice stands out of what was the quietest in the last seconds; steady noise does not. */
const ABOVE_FLOOR_DB = 9;
/** The quietest of two such stretches is the floor (Martin, 2001, minimum statistics, much simplified). */
const FLOOR_SECONDS = 1.2;

/** Tells speech from breath, hiss, hum and knocks, block by block. */
export class VoiceGate {
  readonly #bottom: BiquadFilter;
  readonly #low: BiquadFilter;
  readonly #high: BiquadFilter;
  readonly #smooth: number;
  readonly #confirm: number;
  readonly #stretch: number;
  #lowPower = 0;
  #highPower = 0;
  #heldFor = 0;
  #loudest = 0;
  #floorBefore = Infinity;
  #floorNow = Infinity;
  #inStretch = 0;

  constructor(sampleRate = 48000) {
    this.#bottom = new BiquadFilter(highPass(140, sampleRate));
    this.#low = new BiquadFilter(lowPass(1200, sampleRate));
    this.#high = new BiquadFilter(highPass(3500, sampleRate));
    this.#smooth = 1 - Math.exp(-1 / (SMOOTH_SECONDS * sampleRate));
    this.#confirm = CONFIRM_SECONDS * sampleRate;
    this.#stretch = FLOOR_SECONDS * sampleRate;
  }

  /** Whether somebody speaks at the end of this block. @param thresholdDb dBFS, of the vowels' band */
  process(samples: Float32Array, length: number, thresholdDb: number): boolean {
    let low = this.#lowPower;
    let high = this.#highPower;
    for (let i = 0; i < length; i++) {
      const x = samples[i];
      const voice = this.#low.next(this.#bottom.next(x));
      const hiss = this.#high.next(x);
      low += this.#smooth * (voice * voice - low);
      high += this.#smooth * (hiss * hiss - high);
    }
    this.#lowPower = low;
    this.#highPower = high;
    this.#followFloor(low, length);
    const lowDb = powerToDb(low);
    const floorDb = powerToDb(Math.min(this.#floorBefore, this.#floorNow));
    const voiced = lowDb > thresholdDb && lowDb - powerToDb(high) > VOWEL_DB && !(lowDb < floorDb + ABOVE_FLOOR_DB);
    if (!voiced || low < this.#loudest * KNOCK_FALL) {
      if (this.#heldFor < this.#confirm || !voiced) this.#heldFor = 0;
      this.#loudest = low;
    }
    if (voiced) this.#heldFor += length;
    if (low > this.#loudest) this.#loudest = low;
    return this.#heldFor >= this.#confirm;
  }

  #followFloor(power: number, length: number): void {
    this.#inStretch += length;
    if (this.#inStretch >= this.#stretch) {
      this.#inStretch = 0;
      this.#floorBefore = this.#floorNow;
      this.#floorNow = power;
    } else if (power < this.#floorNow) this.#floorNow = power;
  }
}
