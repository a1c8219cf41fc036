import { createFft } from '../dsp/fft';
import { powerToDb } from '../dsp/decibels';
import { isMainsHum } from '../dsp/mains';

/** Frames of 512 ms at 16 kHz, half overlapping, aligned to the copy before: of shorter ones the sound of a room leaves a part outside (128 ms: 1 to 2 dB). */
const FRAME = 8192;
const HOP = FRAME / 2;
const BINS = FRAME / 2;
/** Bins on either side that share a weight. */
const SMOOTHING = 8;
/** So much of the source lies before the copy's strongest arrival: rooms only add what is later. */
const LEAD = 64;
const BIN_HZ = 16_000 / FRAME;
/** In which a voice has its energy, Hz: below its pitch there are only steps and traffic. */
const FROM_HZ = 80;
/** So near to the mains' harmonics nothing counts, Hz. */
const HUM_WIDTH_HZ = 4;
/** The bins that count. */
const COUNTED = Uint16Array.from({ length: BINS }, (_, k) => k).filter((k) => k * BIN_HZ >= FROM_HZ && !isMainsHum(k * BIN_HZ, HUM_WIDTH_HZ));
/** Frames in which a source has less than this of its average count less. */
const SPEAKS = 0.3;
/** Tracks are never quieter than this for the weights, about −100 dBFS a bin. */
const LEAST_POWER = 1e-7;
const WINDOW = Float64Array.from({ length: FRAME }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FRAME));

/** How much of one source arrives: energy of what arrives over energy of what was said in the same stretches, unweighted, 80 Hz to 7 kHz. */
export interface Level {
  /** Null when it is lost in what else is there. */
  gainDb: number | null;
  /** It is no more than this. */
  atMostDb: number;
  /** How many times what pure chance would give was found, as energy. */
  overChance: number;
}

/** How much of several sources is in one track. */
export interface BleedLevel {
  /** A window of the track and of the sources, each source moved to where its copy is. */
  push(target: Float32Array, sources: readonly Float32Array[]): void;
  /** For each source: its level in the track against its level in its own track, dB. */
  levels(): Level[];
}

/** Samples by which sources are put before their copy. */
export const BLEED_LEAD = LEAD;

/**
 * Least squares over all frames, bin by bin, for all sources at once, so that one which is heard in
 * another's track is not counted twice. Frames weigh by how little else the track holds, and by how much the sources say:
 * a track holds besides its voice what bleeds into it, and that goes nowhere. What pure chance would add to the squares is
 * taken off again.
 * @param count how many sources
 * @param wanted so many of them, the first, are asked for; the others are there to be told apart
 */
export function createBleedLevel(count: number, wanted = count): BleedLevel {
  const fft = createFft(FRAME);
  const re = new Float64Array(FRAME);
  const im = new Float64Array(FRAME);
  const spectra = Array.from({ length: count + 1 }, () => ({ re: new Float64Array(BINS), im: new Float64Array(BINS) }));
  const weights = new Float64Array(BINS);
  const size = count * count;
  // Weighted products of the sources with each other and with the track, per bin.
  const rRe = new Float64Array(BINS * size);
  const rIm = new Float64Array(BINS * size);
  const xRe = new Float64Array(BINS * count);
  const xIm = new Float64Array(BINS * count);
  const targetPower = new Float64Array(BINS);
  const sourcePower = new Float64Array(BINS * count);
  /** How many frames count, per bin. */
  const heardFrames = new Float64Array(BINS);
  let frames = 0;

  /** Two at once, as the real and the imaginary part of one transform. */
  const transform = (first: Float32Array, second: Float32Array, at: number, a: { re: Float64Array; im: Float64Array }, b: { re: Float64Array; im: Float64Array }): void => {
    for (let i = 0; i < FRAME; i++) {
      re[i] = first[at + i] * WINDOW[i];
      im[i] = second[at + i] * WINDOW[i];
    }
    fft.forward(re, im);
    for (let k = 1; k < BINS; k++) {
      const j = FRAME - k;
      a.re[k] = (re[k] + re[j]) / 2;
      a.im[k] = (im[k] - im[j]) / 2;
      b.re[k] = (im[k] + im[j]) / 2;
      b.im[k] = (re[j] - re[k]) / 2;
    }
  };

  const weigh = ({ re: tRe, im: tIm }: { re: Float64Array; im: Float64Array }): void => {
    let sum = 0;
    for (let k = -SMOOTHING; k < BINS; k++) {
      const enters = k + SMOOTHING;
      if (enters < BINS) sum += tRe[enters] ** 2 + tIm[enters] ** 2;
      const leaves = k - SMOOTHING - 1;
      if (leaves >= 0) sum -= tRe[leaves] ** 2 + tIm[leaves] ** 2;
      if (k >= 0) weights[k] = 1 / (Math.max(0, sum) / (2 * SMOOTHING + 1) + LEAST_POWER);
    }
  };

  /** Whether any source that is asked for speaks in a bin, against what it has there on average: in what it holds besides there is nothing of its own to find. */
  const speaks = (k: number): number => {
    let most = 0;
    for (let a = 0; a < wanted; a++) {
      const power = spectra[a].re[k] ** 2 + spectra[a].im[k] ** 2;
      const average = sourcePower[k * count + a] / frames;
      if (power > 0) most = Math.max(most, power / (power + SPEAKS * average));
    }
    return most;
  };

  const accumulate = (): void => {
    frames++;
    for (const k of COUNTED) for (let a = 0; a < count; a++) sourcePower[k * count + a] += spectra[a].re[k] ** 2 + spectra[a].im[k] ** 2;
    const target = spectra[count];
    for (const k of COUNTED) {
      const speaking = speaks(k);
      heardFrames[k] += speaking;
      const w = weights[k] * speaking;
      targetPower[k] += w * (target.re[k] ** 2 + target.im[k] ** 2);
      for (let a = 0; a < count; a++) {
        const aRe = spectra[a].re[k];
        const aIm = spectra[a].im[k];
        xRe[k * count + a] += w * (aRe * target.re[k] + aIm * target.im[k]);
        xIm[k * count + a] += w * (aRe * target.im[k] - aIm * target.re[k]);
        for (let b = 0; b < count; b++) {
          const bRe = spectra[b].re[k];
          const bIm = spectra[b].im[k];
          rRe[k * size + a * count + b] += w * (aRe * bRe + aIm * bIm);
          rIm[k * size + a * count + b] += w * (aRe * bIm - aIm * bRe);
        }
      }
    }
  };

  return {
    push(target, sources) {
      for (let at = 0; at + FRAME <= target.length; at += HOP) {
        for (let k = 0; k <= count; k += 2) {
          const other = Math.min(k + 1, count);
          transform(sources[k] ?? target, sources[other] ?? target, at, spectra[k], spectra[other]);
        }
        weigh(spectra[count]);
        accumulate();
      }
    },
    levels() {
      const heard = new Float64Array(count);
      const own = new Float64Array(count);
      const chance = new Float64Array(count);
      for (const k of COUNTED) {
        const solved = solve(
          count,
          rRe.subarray(k * size, (k + 1) * size),
          rIm.subarray(k * size, (k + 1) * size),
          xRe.subarray(k * count, (k + 1) * count),
          xIm.subarray(k * count, (k + 1) * count),
        );
        if (!solved) continue;
        let explained = 0;
        for (let a = 0; a < count; a++) explained += solved.re[a] * xRe[k * count + a] + solved.im[a] * xIm[k * count + a];
        const rest = Math.max(0, targetPower[k] - explained) / Math.max(1, heardFrames[k] - count);
        for (let a = 0; a < count; a++) {
          const power = sourcePower[k * count + a];
          const bias = rest * solved.inverseDiagonal[a];
          own[a] += power;
          heard[a] += (solved.re[a] ** 2 + solved.im[a] ** 2 - bias) * power;
          chance[a] += bias * power;
        }
      }
      return Array.from({ length: count }, (_, a) => ({
        gainDb: own[a] > 0 && heard[a] > 0.5 * chance[a] ? powerToDb(heard[a] / own[a]) : null,
        overChance: chance[a] > 0 ? heard[a] / chance[a] : 0,
        atMostDb: own[a] > 0 ? powerToDb((Math.max(0, heard[a]) + chance[a]) / own[a]) : Infinity,
      }));
    },
  };
}

/** Solves R h = x for a small Hermitian R by Gauss and Jordan; null when R has no inverse. */
function solve(n: number, rRe: Float64Array, rIm: Float64Array, xRe: Float64Array, xIm: Float64Array) {
  // Columns: R, then the unit matrix, which becomes the inverse.
  const width = 2 * n;
  const mRe = new Float64Array(n * width);
  const mIm = new Float64Array(n * width);
  for (let a = 0; a < n; a++) {
    for (let b = 0; b < n; b++) {
      mRe[a * width + b] = rRe[a * n + b];
      mIm[a * width + b] = rIm[a * n + b];
    }
    mRe[a * width + n + a] = 1;
  }
  for (let a = 0; a < n; a++) {
    const pRe = mRe[a * width + a];
    const pIm = mIm[a * width + a];
    const power = pRe * pRe + pIm * pIm;
    if (!(power > 1e-30)) return null;
    for (let b = 0; b < width; b++) {
      const re = mRe[a * width + b];
      const im = mIm[a * width + b];
      mRe[a * width + b] = (re * pRe + im * pIm) / power;
      mIm[a * width + b] = (im * pRe - re * pIm) / power;
    }
    for (let other = 0; other < n; other++) {
      if (other === a) continue;
      const fRe = mRe[other * width + a];
      const fIm = mIm[other * width + a];
      for (let b = 0; b < width; b++) {
        const re = mRe[a * width + b];
        const im = mIm[a * width + b];
        mRe[other * width + b] -= fRe * re - fIm * im;
        mIm[other * width + b] -= fRe * im + fIm * re;
      }
    }
  }
  const re = new Float64Array(n);
  const im = new Float64Array(n);
  const inverseDiagonal = new Float64Array(n);
  for (let a = 0; a < n; a++) {
    inverseDiagonal[a] = Math.max(0, mRe[a * width + n + a]);
    for (let b = 0; b < n; b++) {
      const iRe = mRe[a * width + n + b];
      const iIm = mIm[a * width + n + b];
      re[a] += iRe * xRe[b] - iIm * xIm[b];
      im[a] += iRe * xIm[b] + iIm * xRe[b];
    }
  }
  return { re, im, inverseDiagonal };
}
