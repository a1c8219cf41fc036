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
    let half = 1;
    if (bits % 2 === 1) {
      for (let k = 0; k < size; k += 2) {
        const tr = re[k + 1];
        const ti = im[k + 1];
        re[k + 1] = re[k] - tr;
        im[k + 1] = im[k] - ti;
        re[k] += tr;
        im[k] += ti;
      }
      half = 2;
    }
    for (; half < size; half *= 4) twoStages(re, im, half, sign);
  };

  /** Two radix-2 stages in one pass over the memory, which is what a long transform waits for. */
  const twoStages = (re: Float64Array, im: Float64Array, half: number, sign: number): void => {
    const stride = size / (4 * half);
    for (let start = 0; start < size; start += 4 * half) {
      for (let k = 0; k < half; k++) {
        const outer = k * stride;
        const w1r = cos[2 * outer];
        const w1i = sign * sin[2 * outer];
        const w2r = cos[outer];
        const w2i = sign * sin[outer];
        const p0 = start + k;
        const p1 = p0 + half;
        const p2 = p1 + half;
        const p3 = p2 + half;
        let tr = re[p1] * w1r - im[p1] * w1i;
        let ti = re[p1] * w1i + im[p1] * w1r;
        const a0r = re[p0] + tr;
        const a0i = im[p0] + ti;
        const a1r = re[p0] - tr;
        const a1i = im[p0] - ti;
        tr = re[p3] * w1r - im[p3] * w1i;
        ti = re[p3] * w1i + im[p3] * w1r;
        const a2r = re[p2] + tr;
        const a2i = im[p2] + ti;
        const a3r = re[p2] - tr;
        const a3i = im[p2] - ti;
        tr = a2r * w2r - a2i * w2i;
        ti = a2r * w2i + a2i * w2r;
        re[p0] = a0r + tr;
        im[p0] = a0i + ti;
        re[p2] = a0r - tr;
        im[p2] = a0i - ti;
        // A quarter turn further: times i, in the direction of the transform.
        tr = -sign * (a3r * w2i + a3i * w2r);
        ti = sign * (a3r * w2r - a3i * w2i);
        re[p1] = a1r + tr;
        im[p1] = a1i + ti;
        re[p3] = a1r - tr;
        im[p3] = a1i - ti;
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
