import { powerToDb } from './decibels';

/** Second-order low- or high-pass, Butterworth (Robert Bristow-Johnson, Audio EQ Cookbook), direct form I. */
class Biquad {
  readonly #b0: number;
  readonly #b1: number;
  readonly #b2: number;
  readonly #a1: number;
  readonly #a2: number;
  #x1 = 0;
  #x2 = 0;
  #y1 = 0;
  #y2 = 0;

  constructor(kind: 'low-pass' | 'high-pass', frequency: number, sampleRate: number) {
    const w = (2 * Math.PI * frequency) / sampleRate;
    const [cos, alpha] = [Math.cos(w), Math.sin(w) / Math.SQRT2];
    const a0 = 1 + alpha;
    const edge = kind === 'low-pass' ? 1 - cos : 1 + cos;
    this.#b0 = this.#b2 = edge / 2 / a0;
    this.#b1 = ((kind === 'low-pass' ? 1 : -1) * edge) / a0;
    this.#a1 = (-2 * cos) / a0;
    this.#a2 = (1 - alpha) / a0;
  }

  next(x: number): number {
    const y = this.#b0 * x + this.#b1 * this.#x1 + this.#b2 * this.#x2 - this.#a1 * this.#y1 - this.#a2 * this.#y2;
    this.#x2 = this.#x1;
    this.#x1 = x;
    this.#y2 = this.#y1;
    this.#y1 = y;
    return y;
  }
}

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
  readonly #bottom: Biquad;
  readonly #low: Biquad;
  readonly #high: Biquad;
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
    this.#bottom = new Biquad('high-pass', 140, sampleRate);
    this.#low = new Biquad('low-pass', 1200, sampleRate);
    this.#high = new Biquad('high-pass', 3500, sampleRate);
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
