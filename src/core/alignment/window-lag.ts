import { createFft } from '../dsp/fft';

/** Samples at 16 kHz of the line that are compared at once: 1.8 s. */
export const LAG_WINDOW = 28672;

const LOWEST_HZ = 200;
const HIGHEST_HZ = 6000;
/**
 * A lag is clear when its peak stands this far out of the correlation's rms. Among 4000 values of unrelated sound the
 * largest is about 3.7; one in ten thousand searches reaches 5.4.
 */
const CLEAR = 6;
/** Below this nobody speaks: −62 dBFS. */
const SILENT_POWER = 10 ** -6.2;

/** Whether and where a window of the line is found in a wider window of the home recording. */
export type WindowLag =
  /** Samples at 16 kHz from the wider window's beginning, between samples too. */
  | { kind: 'clear'; lag: number }
  /** Somebody speaks on both, and they do not fit. */
  | { kind: 'unclear' }
  | { kind: 'silent' };

/**
 * Compares windows by generalised cross-correlation with phase transform (Knapp and Carter, 1976).
 * @param reach half the lags that are tried, samples at 16 kHz: the home window is {@link LAG_WINDOW} + 2 `reach` long
 */
export function createWindowLag(reach: number): (line: Float32Array, home: Float32Array) => WindowLag {
  // Lags 0 to 2 reach never meet the circle's seam.
  const fft = createFft(2 ** Math.ceil(Math.log2(LAG_WINDOW + 2 * reach)));
  const re = new Float64Array(fft.size);
  const im = new Float64Array(fft.size);
  const lowest = Math.round((LOWEST_HZ / 16000) * fft.size);
  const highest = Math.round((HIGHEST_HZ / 16000) * fft.size);
  return (line, home) => {
    if (power(line) < SILENT_POWER || power(home) < SILENT_POWER) return { kind: 'silent' };
    // Two real signals in one transform: the line is its real part.
    re.fill(0);
    im.fill(0);
    re.set(line);
    im.set(home);
    fft.forward(re, im);
    for (let k = 1; k < fft.size / 2; k++) {
      const j = fft.size - k;
      const lineRe = (re[k] + re[j]) / 2;
      const lineIm = (im[k] - im[j]) / 2;
      const homeRe = (im[k] + im[j]) / 2;
      const homeIm = (re[j] - re[k]) / 2;
      const crossRe = homeRe * lineRe + homeIm * lineIm;
      const crossIm = homeIm * lineRe - homeRe * lineIm;
      const size = Math.hypot(crossRe, crossIm);
      const weight = k < lowest || k > highest || size === 0 ? 0 : 1 / size;
      re[k] = re[j] = crossRe * weight;
      im[k] = crossIm * weight;
      im[j] = -im[k];
    }
    re[0] = im[0] = re[fft.size / 2] = im[fft.size / 2] = 0;
    fft.inverse(re, im);
    let best = 0;
    let sum = 0;
    for (let lag = 0; lag <= 2 * reach; lag++) {
      sum += re[lag] * re[lag];
      if (re[lag] > re[best]) best = lag;
    }
    if (!(re[best] > CLEAR * Math.sqrt(sum / (2 * reach + 1))) || best === 0 || best === 2 * reach) return { kind: 'unclear' };
    const [before, peak, after] = [re[best - 1], re[best], re[best + 1]];
    return { kind: 'clear', lag: best + (before - after) / (2 * (before - 2 * peak + after)) };
  };
}

function power(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return sum / samples.length;
}
