import { PERIOD_16K, type Codes } from './codes';
import { windowSpectra, type WindowSpectrum } from './window-spectrum';

/** Below this no crosspoint is open, whatever filters and rounding leave of it, dB. */
const CLOSED_DB = -80;

/**
 * Level of each source in a mix where the engine makes it: no clock and no way is between, so its own lines say all.
 * @param mix at 16 kHz, beginning with the first sample that may be judged
 * @param leadInMs for how long the probes had been sent already
 * @param levelDb root of the mean square at which each was sent, dBFS
 * @returns dB of each code; null where it is not
 */
export function crosspointsInEngine(mix: Float32Array, { codes }: Codes, leadInMs: number, levelDb: number): (number | null)[] {
  const [window] = windowSpectra(mix, [0]);
  return codes.map((code) => {
    const { size } = likeness(code, window, -leadInMs);
    const db = 20 * Math.log10(size) - levelDb;
    return db > CLOSED_DB ? db : null;
  });
}

/** How much of a code is in a window when it is so late, as a factor of what a code has at level 0 dBFS. */
export function likeness(code: { bins: Uint16Array; re: Float64Array; im: Float64Array }, window: WindowSpectrum, delayMs: number): { re: number; im: number; size: number } {
  let [re, im, sent] = [0, 0, 0];
  for (let k = 0; k < code.bins.length; k++) {
    const bin = code.bins[k];
    const turn = (2 * Math.PI * bin * delayMs * 16) / PERIOD_16K;
    const a = window.re[bin] * code.re[k] + window.im[bin] * code.im[k];
    const b = window.im[bin] * code.re[k] - window.re[bin] * code.im[k];
    re += a * Math.cos(turn) - b * Math.sin(turn);
    im += a * Math.sin(turn) + b * Math.cos(turn);
    sent += code.re[k] ** 2 + code.im[k] ** 2;
  }
  return { re: re / sent, im: im / sent, size: Math.hypot(re, im) / sent };
}
