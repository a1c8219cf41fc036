import { createFft } from '../src/core/dsp/fft';

const FRAME = 1024;
const RATE = 48_000;
/** Third octaves of speech, Hz. */
const EDGES = Array.from({ length: 16 }, (_, k) => 200 * 2 ** (k / 3));
/** So far below speech a band is silent, and no difference in it is heard, dB. */
const SILENT_DB = -50;

/**
 * How far apart two sounds are in their spectra, dB: root mean square over third octaves of each frame, mean over frames.
 * @param counts which samples are looked at
 */
export function logSpectralDistance(one: Float32Array, other: Float32Array, counts: (sample: number) => boolean): number {
  const fft = createFft(FRAME);
  const [re, im] = [new Float64Array(FRAME), new Float64Array(FRAME)];
  const window = Float64Array.from({ length: FRAME }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / FRAME));
  const silent = (10 ** (SILENT_DB / 10) * FRAME * one.reduce((sum, x) => sum + x * x, 0)) / one.length / 15;
  let [sum, frames] = [0, 0];
  for (let at = 0; at + FRAME <= Math.min(one.length, other.length); at += FRAME / 2) {
    if (!counts(at) || !counts(at + FRAME)) continue;
    for (let i = 0; i < FRAME; i++) {
      re[i] = window[i] * one[at + i];
      im[i] = window[i] * other[at + i];
    }
    fft.forward(re, im);
    let squares = 0;
    for (let band = 0; band + 1 < EDGES.length; band++) {
      let [a, b] = [silent, silent];
      for (let k = Math.ceil((EDGES[band] * FRAME) / RATE); k < (EDGES[band + 1] * FRAME) / RATE; k++) {
        const back = FRAME - k;
        a += (0.5 * (re[k] + re[back])) ** 2 + (0.5 * (im[k] - im[back])) ** 2;
        b += (0.5 * (im[k] + im[back])) ** 2 + (0.5 * (re[back] - re[k])) ** 2;
      }
      squares += (10 * Math.log10(b / a)) ** 2;
    }
    sum += Math.sqrt(squares / (EDGES.length - 1));
    frames++;
  }
  return frames > 0 ? sum / frames : NaN;
}
