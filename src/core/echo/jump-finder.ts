import { createFft } from '../dsp/fft';
import { FILTER_BLOCK } from './bleed-filter';

/** What is compared: the last 170 ms. */
const BLOCKS = 16;
const LENGTH = BLOCKS * FILTER_BLOCK;
/** Every third sample is enough to find the place; it is then found exactly. */
const COARSE = 3;
const SIZE = 4096;
/** Longest jump of a buffer that is looked for, s. */
const FURTHEST_SECONDS = 0.045;
/** How alike both must be at another place, and how much more than where they should be. */
const ALIKE = 0.5;
const MORE_ALIKE = 0.2;

/**
 * Finds out within a fifth of a second that an echo has jumped, as buffers do: what the filter expected is then in the
 * microphone at another place, as exactly as the filter knew it.
 */
export class JumpFinder {
  readonly #fft = createFft(SIZE);
  readonly #microphone = new Float32Array(LENGTH);
  readonly #expected = new Float32Array(LENGTH);
  readonly #re = new Float64Array(SIZE);
  readonly #im = new Float64Array(SIZE);
  readonly #furthest: number;

  constructor(sampleRate: number) {
    this.#furthest = Math.round(FURTHEST_SECONDS * sampleRate);
  }

  /** @param left what the filter left of the microphone */
  push(microphone: Float32Array, left: Float32Array): void {
    this.#microphone.copyWithin(0, FILTER_BLOCK);
    this.#expected.copyWithin(0, FILTER_BLOCK);
    const from = LENGTH - FILTER_BLOCK;
    for (let i = 0; i < FILTER_BLOCK; i++) {
      this.#microphone[from + i] = microphone[i];
      this.#expected[from + i] = microphone[i] - left[i];
    }
  }

  /** Forgets what was expected: it is expected elsewhere from now on. */
  clear(): void {
    this.#microphone.fill(0);
    this.#expected.fill(0);
  }

  /** So many samples later than expected (below 0: sooner); 0 where it is as expected, or cannot be told. */
  find(): number {
    const [re, im] = [this.#re, this.#im];
    re.fill(0);
    im.fill(0);
    for (let i = 0, k = 0; i + COARSE <= LENGTH; i += COARSE, k++) {
      re[k] = this.#microphone[i] + this.#microphone[i + 1] + this.#microphone[i + 2];
      im[k] = this.#expected[i] + this.#expected[i + 1] + this.#expected[i + 2];
    }
    this.#fft.forward(re, im);
    for (let k = 0; k <= SIZE / 2; k++) {
      const other = (SIZE - k) % SIZE;
      const mRe = 0.5 * (re[k] + re[other]);
      const mIm = 0.5 * (im[k] - im[other]);
      const eRe = 0.5 * (im[k] + im[other]);
      const eIm = 0.5 * (re[other] - re[k]);
      re[k] = re[other] = mRe * eRe + mIm * eIm;
      im[k] = mIm * eRe - mRe * eIm;
      im[other] = -im[k];
    }
    this.#fft.inverse(re, im);
    const reach = Math.floor(this.#furthest / COARSE);
    let best = 0;
    for (let lag = -reach; lag <= reach; lag++) if (re[(lag + SIZE) % SIZE] > re[(best + SIZE) % SIZE]) best = lag;
    let exact = 0;
    let alike = this.#alike(0);
    const here = alike;
    for (let lag = COARSE * (best - 1); lag <= COARSE * (best + 1); lag++) {
      const one = this.#alike(lag);
      if (one > alike) [alike, exact] = [one, lag];
    }
    return alike > ALIKE && alike > here + MORE_ALIKE ? exact : 0;
  }

  /** Likeness of the microphone and what was expected so much sooner, −1 to 1. */
  #alike(lag: number): number {
    const from = Math.max(0, lag);
    const to = LENGTH + Math.min(0, lag);
    const [microphones, expectations] = [this.#microphone, this.#expected];
    let product = 0;
    let microphone = 0;
    let expected = 0;
    for (let i = from; i < to; i++) {
      const m = microphones[i];
      const e = expectations[i - lag];
      product += m * e;
      microphone += m * m;
      expected += e * e;
    }
    return microphone > 0 && expected > 0 ? product / Math.sqrt(microphone * expected) : 0;
  }
}
