import { truePeakBeside } from '../measure/true-peak';
import { dbToGain } from './decibels';

/** How far it looks ahead: 5 ms. */
const AHEAD = 240;
/** Time in which a gain that was taken comes back to 63 %. */
export const LIMITER_RELEASE_SECONDS = 0.12;
/** Between measuring points a little more can hide. */
export const LIMITER_MARGIN_DB = 0.1;
const RATE = 48000;
const NEARLY_WHOLE = 1 - 1e-7;
/** Samples on either side that the interpolation reads. */
const REACH = 32;

export const LIMITER_DELAY = AHEAD + REACH;

/**
 * Holds the true peak of one or two channels under a ceiling by one gain. The gain reaches every peak's need before the peak
 * and is averaged over the same time, so that it never steps. What comes out is later by {@link LIMITER_DELAY} samples.
 */
export class PeakLimiter {
  /** The last 2 · REACH samples of each channel and those of a block: what the interpolation reads. */
  readonly #stretches: Float32Array[];
  /** Those that wait for their gain. */
  readonly #waiting: Float32Array[];
  readonly #needed = new Float32Array(AHEAD + 1).fill(1);
  readonly #held = new Float32Array(AHEAD + 1).fill(1);
  /** Of each sample of a block. */
  readonly #gains: Float64Array;
  readonly #release = 1 - Math.exp(-1 / (LIMITER_RELEASE_SECONDS * RATE));
  readonly #maxBlock: number;
  #ceiling: number;
  #heldSum = AHEAD + 1;
  #place = 0;
  #waitPlace = 0;
  #least = 1;
  #lowest = 1;
  #current = 1;

  /** @param ceilingDb dBTP */
  constructor(channelCount: number, ceilingDb: number, maxBlock: number) {
    this.#ceiling = dbToGain(ceilingDb - LIMITER_MARGIN_DB);
    this.#maxBlock = maxBlock;
    this.#gains = new Float64Array(maxBlock);
    this.#stretches = Array.from({ length: channelCount }, () => new Float32Array(2 * REACH + maxBlock));
    this.#waiting = Array.from({ length: channelCount }, () => new Float32Array(LIMITER_DELAY));
  }

  setCeiling(ceilingDb: number): void {
    this.#ceiling = dbToGain(ceilingDb - LIMITER_MARGIN_DB);
  }

  /** Forgets everything it has heard. */
  reset(): void {
    for (const kept of [...this.#stretches, ...this.#waiting]) kept.fill(0);
    this.#needed.fill(1);
    this.#held.fill(1);
    this.#heldSum = this.#held.length;
    this.#least = this.#lowest = this.#current = 1;
  }

  /** At most as many samples as it was made for; input and output may be the same. */
  process(inputs: readonly Float32Array[], outputs: readonly Float32Array[], length: number, gain = 1): void {
    if (length > this.#maxBlock) throw new RangeError(`A block of ${length} samples is longer than ${this.#maxBlock}.`);
    const channels = inputs.length;
    for (let c = 0; c < channels; c++) {
      const stretch = this.#stretches[c];
      for (let i = 0; i < length; i++) stretch[2 * REACH + i] = inputs[c][i] * gain;
    }
    const resting = this.#atRest(length);
    if (resting) this.#place = (this.#place + length) % this.#needed.length;
    else this.#findGains(length);
    this.#delay(outputs, length);
    if (!resting) for (let c = 0; c < channels; c++) multiply(outputs[c], this.#gains, length);
    for (let c = 0; c < channels; c++) this.#stretches[c].copyWithin(0, length, length + 2 * REACH);
  }

  /** Whether nothing of a block, nor of what is still waiting, needs a gain: what is below half of the ceiling hides nothing above it. */
  #atRest(length: number): boolean {
    if (this.#current < 1 || this.#lowest < 1 || this.#heldSum < NEARLY_WHOLE * this.#held.length) return false;
    for (let c = 0; c < this.#stretches.length; c++) {
      const stretch = this.#stretches[c];
      for (let k = 0; k < length + 2 * REACH; k++) if (Math.abs(stretch[k]) >= 0.5 * this.#ceiling) return false;
    }
    return true;
  }

  #findGains(length: number): void {
    for (let i = 0; i < length; i++) {
      this.#push(this.#need(i + 1));
      const average = Math.min(1, this.#heldSum / this.#held.length);
      if (average < this.#least) this.#least = average;
      this.#gains[i] = average;
    }
  }

  #delay(outputs: readonly Float32Array[], length: number): void {
    let place = 0;
    for (let c = 0; c < outputs.length; c++) {
      const out = outputs[c];
      const waiting = this.#waiting[c];
      const stretch = this.#stretches[c];
      place = this.#waitPlace;
      for (let i = 0; i < length; i++) {
        out[i] = waiting[place];
        waiting[place] = stretch[2 * REACH + i];
        if (++place === LIMITER_DELAY) place = 0;
      }
    }
    this.#waitPlace = place;
  }

  /** The lowest gain since this was last asked, linear. */
  takeLeast(): number {
    const least = this.#least;
    this.#least = 1;
    return least;
  }

  /** The gain that the middle of the 64 samples from `at` on needs. */
  #need(at: number): number {
    let peak = 0;
    for (let c = 0; c < this.#stretches.length; c++) peak = Math.max(peak, truePeakBeside(this.#stretches[c], at, this.#ceiling));
    return peak > this.#ceiling ? this.#ceiling / peak : 1;
  }

  #push(exact: number): void {
    // As it will be when it leaves: what is kept has single precision, and the lowest one must be known again.
    const value = Math.fround(exact);
    const leaving = this.#needed[this.#place];
    this.#needed[this.#place] = value;
    if (value <= this.#lowest) this.#lowest = value;
    else if (leaving === this.#lowest) this.#lowest = lowestOf(this.#needed);
    this.#current = this.#lowest < this.#current ? this.#lowest : this.#current + (this.#lowest - this.#current) * this.#release;
    // What is left to come back is far below the last bit of 24; without this it would never be whole again.
    if (this.#current > NEARLY_WHOLE) this.#current = 1;
    this.#heldSum += this.#current - this.#held[this.#place];
    this.#held[this.#place] = this.#current;
    this.#place = (this.#place + 1) % this.#needed.length;
  }
}

function multiply(samples: Float32Array, gains: Float64Array, length: number): void {
  for (let i = 0; i < length; i++) samples[i] *= gains[i];
}

function lowestOf(gains: Float32Array): number {
  let lowest = 1;
  for (let k = 0; k < gains.length; k++) if (gains[k] < lowest) lowest = gains[k];
  return lowest;
}

/** The same for finished mixes, in pieces of any length. */
export interface TruePeakLimiter {
  /** Channels of one length. What comes out is later by {@link LIMITER_DELAY} samples. */
  process(channels: readonly Float32Array[]): Float32Array<ArrayBuffer>[];
  /** The most it took away, dB. */
  mostTakenDb(): number;
}

/** Short ones are more often wholly at rest, which costs next to nothing. */
const PIECE = 512;

/** @param ceilingDb dBTP @param gainDb applied before */
export function createTruePeakLimiter(channelCount: number, ceilingDb: number, gainDb: number): TruePeakLimiter {
  const limiter = new PeakLimiter(channelCount, ceilingDb, PIECE);
  const gain = dbToGain(gainDb);
  let least = 1;
  return {
    process(channels) {
      const { length } = channels[0];
      const out = channels.map(() => new Float32Array(length));
      for (let from = 0; from < length; from += PIECE) {
        const to = Math.min(length, from + PIECE);
        const part = (samples: Float32Array) => samples.subarray(from, to);
        limiter.process(channels.map(part), out.map(part), to - from, gain);
      }
      least = Math.min(least, limiter.takeLeast());
      return out;
    },
    mostTakenDb: () => -20 * Math.log10(least),
  };
}
