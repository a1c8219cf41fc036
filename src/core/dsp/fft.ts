import { kernelIn, PAGE_BYTES, type KernelFunctions } from '../kernel/kernel';

/**
 * In-place complex FFT of one power-of-two size (decimation in time, Cooley and Tukey, 1965), computed by the kernel. Plans
 * are made once; a transform allocates nothing.
 */
export interface Fft {
  readonly size: number;
  /** Transforms `re` and `im` in place. */
  forward(re: Float64Array, im: Float64Array): void;
  /** The inverse, scaled so that it undoes {@link forward}. */
  inverse(re: Float64Array, im: Float64Array): void;
}

/** Two stages of a transform, and where the kernel finds their turns. */
interface Pass {
  half: number;
  turns: number;
}

const MOST_PAGES = 4096;
const ALIGNED = 16;

/** One memory for all transforms of a thread: what is transformed is copied in and out, so that plans of one size share their room. */
class Workspace {
  readonly #memory = new WebAssembly.Memory({ initial: 1, maximum: MOST_PAGES });
  readonly functions: KernelFunctions = kernelIn(this.#memory);
  readonly #plans = new Map<number, Fft>();
  #doubles = new Float64Array(this.#memory.buffer);
  #free = 1024;

  planOf(size: number): Fft {
    let plan = this.#plans.get(size);
    if (!plan) this.#plans.set(size, (plan = this.#makePlan(size)));
    return plan;
  }

  #reserve(bytes: number): number {
    const address = this.#free;
    this.#free += Math.ceil(bytes / ALIGNED) * ALIGNED;
    const missing = this.#free - this.#memory.buffer.byteLength;
    if (missing > 0) {
      this.#memory.grow(Math.ceil(missing / PAGE_BYTES));
      this.#doubles = new Float64Array(this.#memory.buffer);
    }
    return address;
  }

  #makePlan(size: number): Fft {
    const bits = Math.log2(size);
    const [re, im] = [this.#reserve(size * 8), this.#reserve(size * 8)];
    const swaps = this.#swapsOf(size, bits);
    const passes: Pass[] = [];
    for (let half = bits % 2 === 1 ? 2 : 1; half < size; half *= 4) passes.push({ half, turns: this.#turnsOf(half) });
    const { functions } = this;
    let buffer: ArrayBuffer | null = null;
    let [insideRe, insideIm] = [this.#doubles, this.#doubles];
    const transform = (outsideRe: Float64Array, outsideIm: Float64Array, sign: number): void => {
      // A memory that has grown is another one to look at.
      if (buffer !== this.#memory.buffer) {
        buffer = this.#memory.buffer;
        [insideRe, insideIm] = [new Float64Array(buffer, re, size), new Float64Array(buffer, im, size)];
      }
      insideRe.set(outsideRe);
      insideIm.set(outsideIm);
      functions.fftReorder(re, im, swaps.address, swaps.count);
      if (bits % 2 === 1) functions.fftFirst(re, im, size);
      for (let k = 0; k < passes.length; k++) functions.fftTwoStages(re, im, size, passes[k].half, sign, passes[k].turns);
      if (sign > 0) functions.fftScale(re, im, size, 1 / size);
      outsideRe.set(insideRe);
      outsideIm.set(insideIm);
    };
    return {
      size,
      forward: (outsideRe, outsideIm) => transform(outsideRe, outsideIm, -1),
      inverse: (outsideRe, outsideIm) => transform(outsideRe, outsideIm, 1),
    };
  }

  /** Pairs of places that change their values: each value goes where the bits of its place point, read backwards. */
  #swapsOf(size: number, bits: number): { address: number; count: number } {
    const reversed = new Uint32Array(size);
    const pairs: number[] = [];
    for (let k = 0; k < size; k++) {
      reversed[k] = (reversed[k >> 1] >> 1) | ((k & 1) << (bits - 1));
      if (reversed[k] > k) pairs.push(k, reversed[k]);
    }
    const address = this.#reserve(pairs.length * 4);
    new Uint32Array(this.#memory.buffer).set(pairs, address / 4);
    return { address, count: pairs.length / 2 };
  }

  #turnsOf(half: number): number {
    const address = this.#reserve(4 * half * 8);
    for (let k = 0; k < half; k++) {
      [Math.cos((Math.PI * k) / half), Math.sin((Math.PI * k) / half), Math.cos((Math.PI * k) / (2 * half)), Math.sin((Math.PI * k) / (2 * half))].forEach((value, n) => {
        this.#doubles[address / 8 + n * half + k] = value;
      });
    }
    return address;
  }
}

let workspace: Workspace | null = null;

/** @throws {RangeError} when the size is not a power of two */
export function createFft(size: number): Fft {
  if (!Number.isInteger(size) || size < 2 || (size & (size - 1)) !== 0) {
    throw new RangeError(`size must be a power of two, received ${size}.`);
  }
  workspace ??= new Workspace();
  return workspace.planOf(size);
}

/** The smallest power of two that is not below a length. */
export const powerOfTwoFor = (length: number): number => 2 ** Math.ceil(Math.log2(Math.max(2, length)));

/**
 * Cross-correlation of a signal with a shorter pattern: `result[lag]` is the sum of
 * `pattern[i] * signal[lag + i]`, for lags 0 to `lags − 1`.
 */
export function correlate(signal: Float32Array, pattern: Float32Array, lags: number): Float64Array {
  const fft = createFft(powerOfTwoFor(signal.length + pattern.length));
  const parts = [signal, pattern].map((samples) => {
    const re = new Float64Array(fft.size);
    re.set(samples);
    const im = new Float64Array(fft.size);
    fft.forward(re, im);
    return { re, im };
  });
  const [a, b] = parts;
  for (let k = 0; k < fft.size; k++) {
    const re = a.re[k] * b.re[k] + a.im[k] * b.im[k];
    a.im[k] = a.im[k] * b.re[k] - a.re[k] * b.im[k];
    a.re[k] = re;
  }
  fft.inverse(a.re, a.im);
  return a.re.slice(0, lags);
}
