import { middle } from './middle';
import { codeLevelsDb } from './code-level';
import { PERIOD_16K, type Codes } from './codes';
import { findCode } from './find-code';
import { createWhitener } from './whiten-microphone';
import { levelUnderTalkDb } from './level-under-talk';
import { windowSpectra, type WindowSpectrum } from './window-spectrum';

/** A probe that came in where it was not sent. */
export interface Arrival {
  /** Which of the codes. */
  code: number;
  /** Energy of a voice on the same way, against what was sent, dB. */
  gainDb: number;
  delayMs: number;
  /** Logarithm of how unlikely chance is, about. */
  certainty: number;
  /** False where something louder lay over it: then the level is right to a few decibels only. */
  clear: boolean;
}

export interface Arrivals {
  found: Arrival[];
  /** What is weaker than this would not have been found, dB. */
  floorDb: number;
}

/** Windows for each period. */
const BETWEEN = 4;
/** What is weaker is heard by nobody, dB. */
export const LEAST_DB = -62;
/** A probe is found so far below what else sounds in its band, and with this one the one that is certain enough. */
const BELOW_NOISE_DB = 22;

/**
 * Which probes came back into one input.
 * @param input at 16 kHz, beginning with the first sample that may be judged
 * @param leadInMs for how long the probes had been sent already
 * @param levelDb root of the mean square at which each was sent, dBFS
 * @param sent which of the codes were sent
 */
export function findArrivals(input: Float32Array, { codes, empty }: Codes, leadInMs: number, levelDb: number, sent: readonly number[]): Arrivals {
  const periods = Math.floor(input.length / PERIOD_16K);
  const starts = Array.from({ length: periods }, (_, w) => w * PERIOD_16K);
  // For levels there are windows in between as well: a jump of a buffer spoils those it lies in.
  const between = Array.from({ length: BETWEEN * (periods - 1) + 1 }, (_, w) => (w * PERIOD_16K) / BETWEEN);
  const received = windowSpectra(input, between);
  const floorDb = noiseDb(received, empty, codes.length + 1) - levelDb - BELOW_NOISE_DB;
  if (received.every(({ re }) => re.every((value) => value === 0))) return { found: [], floorDb: -Infinity };
  const whitener = createWhitener(input);
  const weighted = whitener.apply(input);
  const whitened = windowSpectra(weighted, starts);
  const startsAt = starts.map((start) => leadInMs + start / 16);
  const arrived = sent.flatMap((code) => {
    const here = findCode(codes[code], whitened, startsAt);
    return here ? [{ code, ...here }] : [];
  });
  const windows = received.map((spectrum, w) => ({ spectrum, apart: w % BETWEEN === 0 }));
  const present = arrived.map(({ code, delayMs }) => ({ code: codes[code], delaysMs: between.map((start, w) => delayMs[Math.round(w / BETWEEN)] - leadInMs - start / 16) }));
  const levels = codeLevelsDb(present, windows);
  const found = arrived
    .map(({ code, delayMs, certainty }, k): Arrival => {
      const { db, clear } = levels[k];
      const under = clear ? db : levelUnderTalkDb(codes[code], whitener, weighted, delayMs.map((delay, w) => delay - startsAt[w]));
      return { code, gainDb: under - levelDb, delayMs: middle(delayMs), certainty, clear };
    })
    .filter(({ gainDb }) => gainDb > LEAST_DB);
  return { found, floorDb };
}

/** All that sounds in the band where nobody's lines are, as if it sounded everywhere: dBFS. */
function noiseDb(windows: readonly WindowSpectrum[], empty: Uint16Array, group: number): number {
  let sum = 0;
  for (const { re, im } of windows) for (const bin of empty) sum += re[bin] ** 2 + im[bin] ** 2;
  // A line of amplitude a holds a · period / 2 and has a mean square of a² / 2.
  const meanSquare = (2 * group * sum) / (windows.length * PERIOD_16K ** 2);
  return 10 * Math.log10(Math.max(1e-15, meanSquare));
}
