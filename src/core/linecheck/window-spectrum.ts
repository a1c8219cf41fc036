import { createFft } from '../dsp/fft';
import { PERIOD_16K } from './codes';

/** Spectrum of one whole period of a signal, bins 0 to half of {@link PERIOD_16K}. */
export interface WindowSpectrum {
  re: Float64Array;
  im: Float64Array;
}

const fft = createFft(PERIOD_16K);

/** Spectra of whole periods of a signal at 16 kHz; what lies outside of it is silence. Two periods go into one transform. */
export function windowSpectra(signal: Float32Array, starts: readonly number[]): WindowSpectrum[] {
  const half = PERIOD_16K / 2;
  const spectra: WindowSpectrum[] = [];
  const re = new Float64Array(PERIOD_16K);
  const im = new Float64Array(PERIOD_16K);
  for (let k = 0; k < starts.length; k += 2) {
    const two = k + 1 < starts.length;
    for (let i = 0; i < PERIOD_16K; i++) {
      re[i] = signal[starts[k] + i] ?? 0;
      im[i] = two ? (signal[starts[k + 1] + i] ?? 0) : 0;
    }
    fft.forward(re, im);
    const a = { re: new Float64Array(half), im: new Float64Array(half) };
    const b = { re: new Float64Array(half), im: new Float64Array(half) };
    for (let bin = 1; bin < half; bin++) {
      const mirror = PERIOD_16K - bin;
      a.re[bin] = (re[bin] + re[mirror]) / 2;
      a.im[bin] = (im[bin] - im[mirror]) / 2;
      b.re[bin] = (im[bin] + im[mirror]) / 2;
      b.im[bin] = (re[mirror] - re[bin]) / 2;
    }
    spectra.push(a);
    if (two) spectra.push(b);
  }
  return spectra;
}
