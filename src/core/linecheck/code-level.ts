import { middle } from './middle';
import { BIN_HZ, PERIOD_16K, type Code } from './codes';
import { SPEECH_BANDS } from '../measure/speech-spectrum';
import type { WindowSpectrum } from './window-spectrum';

/** So much over the noise the power itself says the level; below, only what periods have in common does. */
const CLEAR = 10 ** 0.6;
/** Below the noise by this much, not even what periods have in common says the level. */
const BURIED = 10 ** 0.3;
/** A jump spreads a line over so many bins to each side, most of it. */
const BESIDE = 2;
/** What a jump has spread beside the lines is never more than so many times what stayed on them. */
const MOST_SPREAD = 4;

/** A whole period of what was received. */
export interface Received {
  spectrum: WindowSpectrum;
  /** Whether it overlaps with none that is apart as well. */
  apart: boolean;
}

/** A code that is in it, and where. */
export interface Present {
  code: Code;
  /** Delay in each window from its own beginning, ms. */
  delaysMs: readonly number[];
}

export interface Level {
  db: number;
  clear: boolean;
}

/** A band of speech, with the bins in it and where the lines of each code are among its own. */
interface Band {
  share: number;
  fromBin: number;
  toBin: number;
}

const BANDS: readonly Band[] = SPEECH_BANDS.map(({ fromHz, toHz, share }) => ({ share, fromBin: Math.ceil(fromHz / BIN_HZ), toBin: Math.ceil(toHz / BIN_HZ) }));

/**
 * How much of each code arrived, weighted as a voice is: the energy ratio a voice would have on the same way, whatever the
 * way does to single frequencies.
 * @param present all codes that are in it: what a jump of a buffer spreads beside their lines belongs to them
 * @returns of each: dB against what was sent at 0 dBFS, and whether it stands out of the noise enough to be believed
 */
export function codeLevelsDb(present: readonly Present[], windows: readonly Received[]): Level[] {
  const near = nearLines(present);
  const sums = present.map(() => 0);
  const weights = present.map(() => 0);
  const chance = present.map(() => 0);
  for (const band of BANDS) {
    const lines = present.map(({ code }) => linesIn(code, band));
    const powers = windows.map(({ spectrum }) => powersIn(spectrum, band, present, lines, near));
    present.forEach((one, k) => {
      const [from, to] = lines[k];
      if (to <= from) return;
      weights[k] += band.share;
      const clear = powers.reduce((sum, { own, noise }) => sum + own[k] - CLEAR * noise[k], 0) > 0;
      sums[k] += band.share * (clear ? middle(powers.map(({ own }) => own[k])) : inCommon(windows, one, from, to));
      chance[k] += band.share * middle(powers.map(({ noise }) => noise[k]));
    });
  }
  return sums.map((sum, k) => ({ db: sum > 0 ? 10 * Math.log10(sum / weights[k]) : -Infinity, clear: sum > chance[k] / BURIED }));
}

/** Which of a code's lines lie in a band: from, up to. */
function linesIn({ bins }: Code, { fromBin, toBin }: Band): [from: number, to: number] {
  const from = bins.findIndex((bin) => bin >= fromBin);
  return from < 0 ? [0, 0] : [from, bins.findLastIndex((bin) => bin < toBin) + 1];
}

/** Power of each code in a band of a window, and what is there by chance, both against what was sent. */
function powersIn({ re, im }: WindowSpectrum, { fromBin, toBin }: Band, present: readonly Present[], lines: readonly (readonly [number, number])[], near: Uint8Array): { own: number[]; noise: number[] } {
  const powerAt = (bin: number): number => re[bin] * re[bin] + im[bin] * im[bin];
  let [beside, besideBins, away, awayBins] = [0, 0, 0, 0];
  for (let bin = fromBin; bin < toBin; bin++) {
    if (near[bin] === 1) {
      beside += powerAt(bin);
      besideBins++;
    } else {
      away += powerAt(bin);
      awayBins++;
    }
  }
  const floor = awayBins === 0 ? 0 : away / awayBins;
  let onLines = 0;
  const own = present.map(({ code }, k) => {
    let sum = 0;
    for (let line = lines[k][0]; line < lines[k][1]; line++) sum += powerAt(code.bins[line]) - floor;
    onLines += Math.max(0, sum);
    return sum;
  });
  const sent = present.map(({ code }, k) => {
    let sum = 0;
    for (let line = lines[k][0]; line < lines[k][1]; line++) sum += code.re[line] ** 2 + code.im[line] ** 2;
    return sum;
  });
  // Only where enough of the band is away from all lines it is known what would be beside them anyway.
  const known = awayBins > besideBins / 4 && onLines > 0;
  const spread = known ? Math.max(1, Math.min(MOST_SPREAD, (beside - besideBins * floor) / onLines)) : 1;
  return { own: own.map((sum, k) => (sum * spread) / sent[k]), noise: sent.map((sum, k) => (floor * (lines[k][1] - lines[k][0])) / sum) };
}

/** Marks the bins beside a line of any code that is there. */
function nearLines(present: readonly Present[]): Uint8Array {
  const near = new Uint8Array(PERIOD_16K / 2);
  for (const { code } of present) for (const bin of code.bins) near.fill(1, bin - BESIDE, bin + BESIDE + 1);
  return near;
}

/** What the lines of periods that do not overlap have in common: noise has nothing. */
function inCommon(windows: readonly Received[], { code, delaysMs }: Present, from: number, to: number): number {
  const apart = windows.flatMap(({ spectrum, apart: isApart }, w) => (isApart ? [{ spectrum, delayMs: delaysMs[w] }] : []));
  const pairs = apart.length * (apart.length - 1);
  if (pairs === 0) return 0;
  let [common, sent] = [0, 0];
  for (let k = from; k < to; k++) {
    const bin = code.bins[k];
    let [allRe, allIm, own] = [0, 0, 0];
    for (const { spectrum, delayMs } of apart) {
      // The line of the way at this frequency, with the delay taken out.
      const turn = (2 * Math.PI * bin * delayMs * 16) / PERIOD_16K;
      const re = spectrum.re[bin] * Math.cos(turn) - spectrum.im[bin] * Math.sin(turn);
      const im = spectrum.re[bin] * Math.sin(turn) + spectrum.im[bin] * Math.cos(turn);
      allRe += re;
      allIm += im;
      own += re * re + im * im;
    }
    common += allRe * allRe + allIm * allIm - own;
    sent += code.re[k] ** 2 + code.im[k] ** 2;
  }
  return common / (pairs * sent);
}
