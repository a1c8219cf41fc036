/**
 * In-place complex FFT of one power-of-two size (decimation in time, Cooley and Tukey, 1965). Plans
 * are made once; a transform allocates nothing.
 */
export interface Fft {
  readonly size: number;
  /** Transforms `re` and `im` in place. */
  forward(re: Float64Array, im: Float64Array): void;
  /** The inverse, scaled so that it undoes {@link forward}. */
  inverse(re: Float64Array, im: Float64Array): void;
}

/** @throws {RangeError} when the size is not a power of two */
export function createFft(size: number): Fft {
  if (!Number.isInteger(size) || size < 2 || (size & (size - 1)) !== 0) {
    throw new RangeError(`size must be a power of two, received ${size}.`);
  }
  const bits = Math.log2(size);
  const cos = new Float64Array(size / 2);
  const sin = new Float64Array(size / 2);
  for (let k = 0; k < size / 2; k++) {
    cos[k] = Math.cos((2 * Math.PI * k) / size);
    sin[k] = Math.sin((2 * Math.PI * k) / size);
  }
  const reversed = new Uint32Array(size);
  for (let k = 0; k < size; k++) reversed[k] = (reversed[k >> 1] >> 1) | ((k & 1) << (bits - 1));

  const transform = (re: Float64Array, im: Float64Array, sign: number): void => {
    for (let k = 0; k < size; k++) {
      const j = reversed[k];
      if (j <= k) continue;
      [re[k], re[j]] = [re[j], re[k]];
      [im[k], im[j]] = [im[j], im[k]];
    }
    for (let half = 1; half < size; half *= 2) {
      const stride = size / (2 * half);
      for (let start = 0; start < size; start += 2 * half) {
        for (let k = 0; k < half; k++) {
          const wr = cos[k * stride];
          const wi = sign * sin[k * stride];
          const low = start + k;
          const high = low + half;
          const tr = re[high] * wr - im[high] * wi;
          const ti = re[high] * wi + im[high] * wr;
          re[high] = re[low] - tr;
          im[high] = im[low] - ti;
          re[low] += tr;
          im[low] += ti;
        }
      }
    }
  };
  return {
    size,
    forward: (re, im) => transform(re, im, -1),
    inverse(re, im) {
      transform(re, im, 1);
      for (let k = 0; k < size; k++) {
        re[k] /= size;
        im[k] /= size;
      }
    },
  };
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
