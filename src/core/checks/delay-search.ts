import { createFft } from '../dsp/fft';
import { createWhitener } from './whiten';

/** Samples a second at which tracks are compared. */
export const COMPARE_RATE = 16000;
/** What is compared at once: 4.1 s. */
export const COMPARE_WINDOW = 65536;
/** A copy may come this much before, and this much after, samples: −0.256 s to 1.504 s. */
export const EARLIEST_LAG = -4096;
export const LATEST_LAG = 24064;
const LAGS = LATEST_LAG - EARLIEST_LAG;
/**
 * How far a peak must stand out of the correlation, in multiples of its rms. Among 28 000 values of
 * unrelated sound the largest is about 4.2; one in ten thousand such searches reaches 6.
 */
const CLEAR = 6.5;
/** In one window alone; asked of several before it counts, for lines whose delay moves. */
const CLEAR_ALONE = 7.5;
const FEWEST_ALONE = 3;
/**
 * A room shows several peaks within these samples, a millisecond, and one window shows this one clearest and the next that: where the
 * place of all windows has such a share of its peak, a window is taken to have moved no further than there.
 */
const NEAR = 16;
const AS_CLEAR = 0.6;
/** Energy of the whitened sound is kept for stretches of this many samples: 16 ms. */
const STRETCH = 256;
/** A stretch sounds when it has this share of the loudest one's energy; whitened, that is this share of the band. */
const SOUNDING = 0.05;
const LAG_STRETCHES = Math.ceil(LAGS / STRETCH) + 1;
/** At a lag where both sounded together for less than this, nothing can be said: 1.5 s. */
const LEAST_TOGETHER = (1.5 * COMPARE_RATE) / STRETCH;
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
  /** Correlation at every lag, of all windows. */
  sum: Float32Array;
  /** What unrelated sounds of this energy would add to its square, at every stretch of lags. */
  expected: Float64Array;
  /** For how many stretches both sounded, at every stretch of lags. */
  together: Float64Array;
  alone: Map<number, PeakAlone>;
}

interface PeakAlone {
  lag: number;
  clarity: number;
  /** The correlation from {@link NEAR} before the peak to as far behind it, as shares of the peak. */
  around: Float32Array;
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
  const energies = Array.from({ length: count }, () => new Float64Array(COMPARE_WINDOW / STRETCH));
  const loudest = new Float64Array(count);
  const pairs = new Map<string, Pair>();
  const expected = new Float64Array(LAG_STRETCHES);
  const together = new Float64Array(LAG_STRETCHES);
  /** Stretches in which a source sounded while a target was digitally silent: nothing of it can be there. */
  const unheard = new Float64Array(count * count);
  let window = 0;

  /** How much two unrelated sounds of these energies would correlate, and how long both sound, for lags in steps. */
  const expect = (source: number, target: number): void => {
    const [a, b] = [energies[source], energies[target]];
    for (let k = 0; k < LAG_STRETCHES; k++) {
      const lag = k + EARLIEST_LAG / STRETCH;
      let power = 0;
      let both = 0;
      for (let h = Math.max(0, -lag); h < Math.min(a.length, a.length - lag); h++) {
        const product = a[h] * b[h + lag];
        power += product;
        if (a[h] > SOUNDING * loudest[source] && b[h + lag] > SOUNDING * loudest[target]) both++;
      }
      expected[k] = power / STRETCH;
      together[k] = both;
    }
  };

  const add = (source: number, target: number, lagged: Float64Array): void => {
    expect(source, target);
    if (together.every((both) => both === 0)) return;
    const key = `${source}/${target}`;
    const pair = pairs.get(key) ?? { sum: new Float32Array(LAGS), expected: new Float64Array(LAG_STRETCHES), together: new Float64Array(LAG_STRETCHES), alone: new Map<number, PeakAlone>() };
    pairs.set(key, pair);
    const value = (k: number): number => lagged[(k + EARLIEST_LAG + fft.size) % fft.size];
    for (let k = 0; k < LAGS; k++) pair.sum[k] += value(k);
    for (let k = 0; k < LAG_STRETCHES; k++) {
      pair.expected[k] += expected[k];
      pair.together[k] += together[k];
    }
    const here = outstanding(value, expected, together);
    if (!here || here.clarity <= CLEAR_ALONE) return;
    const around = Float32Array.from({ length: 2 * NEAR + 1 }, (_, k) => Math.abs(value(here.at + k - NEAR) / value(here.at)));
    pair.alone.set(window, { lag: here.at + EARLIEST_LAG, clarity: here.clarity, around });
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
        const white = whiten(samples);
        spectra[k].re.set(white);
        loudest[k] = energyOf(white, energies[k]);
        fft.forward(spectra[k].re, spectra[k].im);
      });
      tracks.forEach((_, source) => {
        if (!sounding[source]) return;
        for (const target of targets) unheard[source * count + target] += stretchesUnheard(energies[source], loudest[source], sounding[target] ? energies[target] : null);
      });
      for (const target of targets.filter((k) => sounding[k])) {
        const sources = tracks.flatMap((_, k) => (k !== target && sounding[k] ? [k] : []));
        for (let k = 0; k < sources.length; k += 2) correlate(target, sources[k], sources[k + 1]);
      }
      window++;
    },
    found(source, target) {
      const pair = pairs.get(`${source}/${target}`);
      const judged = pair && judge(pair);
      return judged === undefined && unheard[source * count + target] >= LEAST_TOGETHER ? null : judged;
    },
  };
}

/** Null where nothing stands out; undefined where they did not sound together long enough at any lag. */
function judge(pair: Pair): FoundDelay | null | undefined {
  const all = outstanding((k) => pair.sum[k], pair.expected, pair.together);
  if (!all) return undefined;
  const alone = [...pair.alone].sort(([, a], [, b]) => b.clarity - a.clarity);
  const at = (lag: number): Pick<FoundDelay, 'lag' | 'perWindow'> => ({ lag, perWindow: new Map(alone.map(([window, peak]) => [window, isAlsoAt(lag, peak) ? lag : peak.lag])) });
  if (all.clarity > CLEAR) return { ...at(all.at + EARLIEST_LAG), clarity: all.clarity, clearest: alone[0]?.[0] ?? -1 };
  if (alone.length < FEWEST_ALONE) return null;
  const lags = alone.map(([, { lag }]) => lag).sort((a, b) => a - b);
  return { ...at(lags[lags.length >> 1]), clarity: alone[0][1].clarity, clearest: alone[0][0] };
}

const isAlsoAt = (lag: number, peak: PeakAlone): boolean => peak.around[lag - peak.lag + NEAR] >= AS_CLEAR;

/**
 * The value that stands out most, in multiples of the rms of all, each against what chance would give at its lag: where
 * two sounds hardly meet, small values mean nothing. Undefined where they meet nowhere for long enough.
 */
function outstanding(value: (k: number) => number, expected: Float64Array, together: Float64Array): { at: number; clarity: number } | undefined {
  let power = 0;
  let peak = 0;
  let at = 0;
  let lags = 0;
  for (let k = 0; k < LAGS; k++) {
    const place = k / STRETCH;
    const before = Math.floor(place);
    if (Math.min(together[before], together[before + 1] ?? 0) < LEAST_TOGETHER) continue;
    const chance = expected[before] + (place - before) * (expected[before + 1] - expected[before]);
    const size = Math.abs(value(k)) / Math.sqrt(chance);
    power += size * size;
    lags++;
    if (size > peak) [peak, at] = [size, k];
  }
  return lags === 0 || power === 0 ? undefined : { at, clarity: peak / Math.sqrt(power / lags) };
}

/** Stretches in which a source sounds and a target does not at all; null is silent throughout. */
function stretchesUnheard(source: Float64Array, loudest: number, target: Float64Array | null): number {
  let unheard = 0;
  for (let h = 0; h < source.length; h++) if (source[h] > SOUNDING * loudest && (target === null || target[h] === 0)) unheard++;
  return unheard;
}

/** Energy of every stretch; returns the largest. */
function energyOf(samples: Float32Array, into: Float64Array): number {
  let most = 0;
  for (let h = 0; h < into.length; h++) {
    let sum = 0;
    for (let i = h * STRETCH; i < (h + 1) * STRETCH; i++) sum += samples[i] * samples[i];
    into[h] = sum;
    most = Math.max(most, sum);
  }
  return most;
}
