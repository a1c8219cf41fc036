import { createFft } from '../dsp/fft';
import { createWhitener } from './whiten';

/** Samples a second at which tracks are compared. */
export const COMPARE_RATE = 16000;
/** What is compared at once: 4.1 s. */
export const COMPARE_WINDOW = 65536;
/** A copy may come this much before, and this much after, samples: −0.25 s to 1.5 s. */
export const EARLIEST_LAG = -4000;
export const LATEST_LAG = 24000;
const LAGS = LATEST_LAG - EARLIEST_LAG;
/**
 * How far a peak must stand out of the correlation, in multiples of its rms. Among 28 000 values of
 * unrelated sound the largest is about 4.2; one in ten thousand such searches reaches 6.
 */
const CLEAR = 6.5;
/** In one window alone; asked of several before it counts, for lines whose delay moves. */
const CLEAR_ALONE = 7.5;
const FEWEST_ALONE = 3;
/** Quieter than this a window holds nothing to compare: −75 dBFS. */
const SILENT_POWER = 10 ** -7.5;

/** A source found in a track. */
export interface FoundDelay {
  /** Samples at {@link COMPARE_RATE}; positive when the track is later. */
  lag: number;
  /** Peak of the correlation over its rms. */
  clarity: number;
  /** Lag in each window, where that window shows it by itself. */
  perWindow: Map<number, number>;
  /** The clearest windows' number. */
  clearest: number;
}

interface Pair {
  sum: Float32Array;
  windows: number;
  alone: Map<number, { lag: number; clarity: number }>;
}

/** Looks for every track in every other one, window by window. */
export interface DelaySearch {
  /** One window of all tracks at {@link COMPARE_RATE}, {@link COMPARE_WINDOW} samples each. */
  push(tracks: readonly Float32Array[]): void;
  /** `source` in `target`: where it is, null where nothing stands out, undefined where they never sounded together. */
  found(source: number, target: number): FoundDelay | null | undefined;
}

/** @param targets tracks that are searched; all tracks are looked for in them */
export function createDelaySearch(count: number, targets: readonly number[]): DelaySearch {
  const fft = createFft(2 * COMPARE_WINDOW);
  const whiten = createWhitener();
  const spectra = Array.from({ length: count }, () => ({ re: new Float64Array(fft.size), im: new Float64Array(fft.size) }));
  const product = { re: new Float64Array(fft.size), im: new Float64Array(fft.size) };
  const pairs = new Map<string, Pair>();
  let window = 0;

  const add = (source: number, target: number, lagged: Float64Array): void => {
    const key = `${source}/${target}`;
    const pair = pairs.get(key) ?? { sum: new Float32Array(LAGS), windows: 0, alone: new Map<number, { lag: number; clarity: number }>() };
    pairs.set(key, pair);
    const { peak, at, rms } = outstanding((k) => lagged[(k + EARLIEST_LAG + fft.size) % fft.size]);
    if (rms === 0) return;
    for (let k = 0; k < LAGS; k++) pair.sum[k] += lagged[(k + EARLIEST_LAG + fft.size) % fft.size] / rms;
    pair.windows++;
    if (peak > CLEAR_ALONE * rms) pair.alone.set(window, { lag: at + EARLIEST_LAG, clarity: peak / rms });
  };

  /** Correlates a target with one or two sources: two real results come out of one inverse. */
  const correlate = (target: number, first: number, second: number | undefined): void => {
    const t = spectra[target];
    const a = spectra[first];
    const b = second === undefined ? null : spectra[second];
    for (let k = 0; k < fft.size; k++) {
      let re = t.re[k] * a.re[k] + t.im[k] * a.im[k];
      let im = t.im[k] * a.re[k] - t.re[k] * a.im[k];
      if (b) {
        re -= t.im[k] * b.re[k] - t.re[k] * b.im[k];
        im += t.re[k] * b.re[k] + t.im[k] * b.im[k];
      }
      product.re[k] = re;
      product.im[k] = im;
    }
    fft.inverse(product.re, product.im);
    add(first, target, product.re);
    if (second !== undefined) add(second, target, product.im);
  };

  return {
    push(tracks) {
      const sounding = tracks.map((samples) => samples.reduce((sum, sample) => sum + sample * sample, 0) > SILENT_POWER * samples.length);
      tracks.forEach((samples, k) => {
        if (!sounding[k]) return;
        spectra[k].re.fill(0);
        spectra[k].im.fill(0);
        spectra[k].re.set(whiten(samples));
        fft.forward(spectra[k].re, spectra[k].im);
      });
      for (const target of targets.filter((k) => sounding[k])) {
        const sources = tracks.flatMap((_, k) => (k !== target && sounding[k] ? [k] : []));
        for (let k = 0; k < sources.length; k += 2) correlate(target, sources[k], sources[k + 1]);
      }
      window++;
    },
    found(source, target) {
      const pair = pairs.get(`${source}/${target}`);
      return pair && pair.windows > 0 ? judge(pair) : undefined;
    },
  };
}

function judge(pair: Pair): FoundDelay | null {
  const { peak, at, rms } = outstanding((k) => pair.sum[k]);
  const alone = [...pair.alone].sort(([, a], [, b]) => b.clarity - a.clarity);
  const perWindow = new Map(alone.map(([window, { lag }]) => [window, lag]));
  if (peak > CLEAR * rms) return { lag: at + EARLIEST_LAG, clarity: peak / rms, perWindow, clearest: alone[0]?.[0] ?? -1 };
  if (alone.length < FEWEST_ALONE) return null;
  const lags = alone.map(([, { lag }]) => lag).sort((a, b) => a - b);
  return { lag: lags[lags.length >> 1], clarity: alone[0][1].clarity, perWindow, clearest: alone[0][0] };
}

/** Largest absolute value of {@link LAGS} values, its place, and their rms. */
function outstanding(value: (k: number) => number): { peak: number; at: number; rms: number } {
  let power = 0;
  let peak = 0;
  let at = 0;
  for (let k = 0; k < LAGS; k++) {
    const size = Math.abs(value(k));
    power += size * size;
    if (size > peak) [peak, at] = [size, k];
  }
  return { peak, at, rms: Math.sqrt(power / LAGS) };
}
