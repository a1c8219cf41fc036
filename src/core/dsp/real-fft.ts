import { createFft } from './fft';

/**
 * FFT of a real signal of one power-of-two size, by a complex one of half the size (Cooley, Lewis and Welch, 1970): the bins
 * 0 to size / 2. Plans are made once; a transform allocates nothing.
 */
export interface RealFft {
  readonly size: number;
  /** @param samples `size` of them; `re` and `im` get `size / 2 + 1` bins */
  forward(samples: Float64Array, re: Float64Array, im: Float64Array): void;
  /** Undoes {@link RealFft.forward}. */
  inverse(re: Float64Array, im: Float64Array, samples: Float64Array): void;
}

/** @throws {RangeError} when the size is not a power of two of at least 4 */
export function createRealFft(size: number): RealFft {
  const half = size / 2;
  const fft = createFft(half);
  const [zRe, zIm] = [new Float64Array(half), new Float64Array(half)];
  const cos = Float64Array.from({ length: half + 1 }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const sin = Float64Array.from({ length: half + 1 }, (_, k) => Math.sin((2 * Math.PI * k) / size));
  return {
    size,
    forward(samples, re, im) {
      for (let n = 0; n < half; n++) {
        zRe[n] = samples[2 * n];
        zIm[n] = samples[2 * n + 1];
      }
      fft.forward(zRe, zIm);
      for (let k = 0; k <= half; k++) {
        const a = k === half ? 0 : k;
        const b = k === 0 ? 0 : half - k;
        // Spectra of the even and of the odd samples.
        const evenRe = 0.5 * (zRe[a] + zRe[b]);
        const evenIm = 0.5 * (zIm[a] - zIm[b]);
        const oddRe = 0.5 * (zIm[a] + zIm[b]);
        const oddIm = 0.5 * (zRe[b] - zRe[a]);
        re[k] = evenRe + cos[k] * oddRe + sin[k] * oddIm;
        im[k] = evenIm + cos[k] * oddIm - sin[k] * oddRe;
      }
    },
    inverse(re, im, samples) {
      for (let k = 0; k < half; k++) {
        const b = half - k;
        const evenRe = 0.5 * (re[k] + re[b]);
        const evenIm = 0.5 * (im[k] - im[b]);
        const apartRe = 0.5 * (re[k] - re[b]);
        const apartIm = 0.5 * (im[k] + im[b]);
        const oddRe = cos[k] * apartRe - sin[k] * apartIm;
        const oddIm = cos[k] * apartIm + sin[k] * apartRe;
        zRe[k] = evenRe - oddIm;
        zIm[k] = evenIm + oddRe;
      }
      fft.inverse(zRe, zIm);
      for (let n = 0; n < half; n++) {
        samples[2 * n] = zRe[n];
        samples[2 * n + 1] = zIm[n];
      }
    },
  };
}
