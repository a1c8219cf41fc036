import { createRealFft } from '../dsp/real-fft';

const RATE = 48_000;
/** Compared at 4 kHz: what a coder does to a voice is least there. */
const STEP = 12;
const SLOW_RATE = RATE / STEP;
/** What was sent is remembered this long, and so much of what is heard is looked for in it: 33 s and 8 s. */
const SENT = 131_072;
const HEARD = 32_768;
const SIZE = 2 * SENT;
const [LOWEST_HZ, HIGHEST_HZ] = [150, 1500];
/**
 * A delay stands out of all others by this (true ones by a hundred and more), and is found twice. In between it may move by so many
 * samples: a desk that stands still for a moment, or a player that fills its buffer, moves it and it is still the delay.
 */
const CLEAR = 30;
const SAME = 0.5 * SLOW_RATE;
const SILENCE = 1e-4;

/** A signal at 48 kHz as its newest stretch at 4 kHz. */
class Slow {
  readonly samples: Float64Array;
  #sum = 0;
  #count = 0;

  constructor(length: number) {
    this.samples = new Float64Array(length);
  }

  push(mono: Float32Array): void {
    const fresh: number[] = [];
    for (const sample of mono) {
      this.#sum += sample;
      if (++this.#count < STEP) continue;
      fresh.push(this.#sum / STEP);
      this.#sum = this.#count = 0;
    }
    const { samples } = this;
    const kept = fresh.slice(-samples.length);
    samples.copyWithin(0, kept.length);
    samples.set(kept, samples.length - kept.length);
  }
}

/** How late a stream comes back, by its sound alone: GCC-PHAT over half a minute (Knapp and Carter, 1976). */
export class StreamDelay {
  readonly #sent = new Slow(SENT);
  readonly #heard = new Slow(HEARD);
  readonly #fft = createRealFft(SIZE);
  readonly #bins = Array.from({ length: 4 }, () => new Float64Array(SIZE / 2 + 1));
  readonly #stretch = new Float64Array(SIZE);
  #before = -1;

  /** Both at 48 kHz, mono, as they come; their newest samples are of one moment. */
  sent(mono: Float32Array): void {
    this.#sent.push(mono);
  }

  heard(mono: Float32Array): void {
    this.#heard.push(mono);
  }

  /** The delay, s; null while it is not clear. To be called every few seconds. */
  find(): number | null {
    const found = rms(this.#sent.samples) < SILENCE || rms(this.#heard.samples) < SILENCE ? -1 : this.#clearest();
    const same = found >= 0 && Math.abs(found - this.#before) <= SAME;
    this.#before = found;
    return same ? found / SLOW_RATE : null;
  }

  #clearest(): number {
    const [aRe, aIm, bRe, bIm] = this.#bins;
    this.#transform(this.#sent.samples, aRe, aIm);
    this.#transform(this.#heard.samples, bRe, bIm);
    for (let k = 0; k <= SIZE / 2; k++) {
      const hz = (k * SLOW_RATE) / SIZE;
      const re = aRe[k] * bRe[k] + aIm[k] * bIm[k];
      const im = aRe[k] * bIm[k] - aIm[k] * bRe[k];
      const size = Math.hypot(re, im);
      const weight = size === 0 || hz < LOWEST_HZ || hz > HIGHEST_HZ ? 0 : 1 / size;
      aRe[k] = re * weight;
      aIm[k] = im * weight;
    }
    this.#fft.inverse(aRe, aIm, this.#stretch);
    let [best, power] = [0, 0];
    for (let lag = 0; lag < SENT - HEARD; lag++) {
      power += this.#stretch[lag] ** 2;
      if (this.#stretch[lag] > this.#stretch[best]) best = lag;
    }
    return this.#stretch[best] > CLEAR * Math.sqrt(power / (SENT - HEARD)) ? best : -1;
  }

  /** Both end at the same place, so that a delay is a place of the correlation. */
  #transform(samples: Float64Array, re: Float64Array, im: Float64Array): void {
    this.#stretch.fill(0);
    this.#stretch.set(samples, SENT - samples.length);
    this.#fft.forward(this.#stretch, re, im);
  }
}

const rms = (samples: Float64Array): number => Math.sqrt(samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length);
