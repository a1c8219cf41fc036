import { createFft, type Fft } from '../dsp/fft';

/** Frames of 32 ms at 16 kHz, half overlapping. */
const FRAME = 512;
const HOP = FRAME / 2;
/** Below 219 Hz lies mains hum, which every track of one house shares. */
const LOWEST_BIN = 7;
/** A bin this small holds no sound: about −110 dBFS. */
const NO_SOUND = 1e-3;

const WINDOW = Float64Array.from({ length: FRAME }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / FRAME));

/**
 * Gives every bin of every short frame of a sound at 16 kHz the same size and keeps its phase, so that
 * a quiet copy in the pauses of a loud voice counts as much as the voice (the phase transform of Knapp
 * and Carter, 1976, in time and frequency).
 */
export function createWhitener(): (samples: Float32Array) => Float32Array<ArrayBuffer> {
  const fft: Fft = createFft(FRAME);
  const re = new Float64Array(FRAME);
  const im = new Float64Array(FRAME);
  return (samples) => {
    const out = new Float32Array(samples.length);
    // Two frames at once, as the real and the imaginary part of one transform.
    for (let at = 0; at + FRAME + HOP <= samples.length; at += 2 * HOP) {
      for (let i = 0; i < FRAME; i++) {
        re[i] = samples[at + i] * WINDOW[i];
        im[i] = samples[at + HOP + i] * WINDOW[i];
      }
      fft.forward(re, im);
      flatten(re, im);
      fft.inverse(re, im);
      for (let i = 0; i < FRAME; i++) {
        out[at + i] += re[i] * WINDOW[i];
        out[at + HOP + i] += im[i] * WINDOW[i];
      }
    }
    return out;
  };
}

/** Takes the two spectra of real signals apart, flattens each, and puts them together again. */
function flatten(re: Float64Array, im: Float64Array): void {
  re[0] = im[0] = re[FRAME / 2] = im[FRAME / 2] = 0;
  for (let k = 1; k < FRAME / 2; k++) {
    const j = FRAME - k;
    let aRe = (re[k] + re[j]) / 2;
    let aIm = (im[k] - im[j]) / 2;
    let bRe = (im[k] + im[j]) / 2;
    let bIm = (re[j] - re[k]) / 2;
    const a = k < LOWEST_BIN ? 0 : weight(aRe, aIm);
    const b = k < LOWEST_BIN ? 0 : weight(bRe, bIm);
    aRe *= a;
    aIm *= a;
    bRe *= b;
    bIm *= b;
    re[k] = aRe - bIm;
    im[k] = aIm + bRe;
    re[j] = aRe + bIm;
    im[j] = bRe - aIm;
  }
}

function weight(re: number, im: number): number {
  const size = Math.sqrt(re * re + im * im);
  return size < NO_SOUND ? 0 : 1 / size;
}
