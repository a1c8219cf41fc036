import { createFft, powerOfTwoFor } from '../dsp/fft';
import type { ReadSamples, TwoRecordings } from './recordings';

/** One reading of the level every 10 ms. */
const STEP = 480;
const READ_AT_ONCE = 1000;
/** Level below which nothing is told apart, as a sample: −80 dBFS. */
const FLOOR = 1e-4;
/** What changes more slowly than this many readings to either side is taken off. */
const SLOW = 100;

/**
 * Roughly where a home recording lies: home sample minus line sample, to some 10 ms, from how loud both are over time.
 * The best guess there is; whether it is any good, {@link alignHome} finds out.
 */
export async function coarseOffset({ line, lineSamples, home, homeSamples }: TwoRecordings): Promise<number> {
  const envelopes = [await envelope(line, lineSamples), await envelope(home, homeSamples)];
  const fft = createFft(powerOfTwoFor(envelopes[0].length + envelopes[1].length));
  const [a, b] = envelopes.map((values) => {
    const re = new Float64Array(fft.size);
    re.set(values);
    const im = new Float64Array(fft.size);
    fft.forward(re, im);
    return { re, im };
  });
  for (let k = 0; k < fft.size; k++) {
    const re = b.re[k] * a.re[k] + b.im[k] * a.im[k];
    b.im[k] = b.im[k] * a.re[k] - b.re[k] * a.im[k];
    b.re[k] = re;
  }
  fft.inverse(b.re, b.im);
  let best = 0;
  for (let k = 1; k < fft.size; k++) if (b.re[k] > b.re[best]) best = k;
  return (best > fft.size / 2 ? best - fft.size : best) * STEP;
}

/** Logarithm of the level every 10 ms, what changes slowly taken off. */
async function envelope(read: ReadSamples, length: number): Promise<Float64Array> {
  const values = new Float64Array(Math.floor(length / STEP));
  for (let first = 0; first < values.length; first += READ_AT_ONCE) {
    const count = Math.min(READ_AT_ONCE, values.length - first);
    const piece = await read(first * STEP, count * STEP);
    for (let k = 0; k < count; k++) {
      let power = 0;
      for (let i = k * STEP; i < (k + 1) * STEP; i++) power += piece[i] * piece[i];
      values[first + k] = Math.log(FLOOR + Math.sqrt(power / STEP));
    }
  }
  const sums = new Float64Array(values.length + 1);
  for (let k = 0; k < values.length; k++) sums[k + 1] = sums[k] + values[k];
  return values.map((value, k) => {
    const from = Math.max(0, k - SLOW);
    const to = Math.min(values.length, k + SLOW + 1);
    return value - (sums[to] - sums[from]) / (to - from);
  });
}
