import { PERIOD_16K, type Code, type Codes } from './codes';
import { likeness } from './crosspoints';
import { findCode } from './find-code';
import { middle } from './middle';
import { windowSpectra, type WindowSpectrum } from './window-spectrum';

/** What of each probe arrives at the other end of a line. */
export interface FarEnd {
  /** Level of each code, dB against what was sent, the line's own loss taken off; null for what was not found. */
  measuredDb: (number | null)[];
  /** What the line takes from a sound like the probes, dB; null when nothing arrived. */
  lineDb: number | null;
  /** A source weaker than this would not have been found, dB. */
  floorDb: number;
}

/** A code is there when it is so much more than lines of nobody are by chance. */
const OVER_CHANCE = 10 ** 1.2;
/** Windows for each period: a jump of the line's buffer spoils those it lies in. */
const BETWEEN = 4;
/** Fine steps around the lag that was found, ms: a sixteenth of a wave at 6 kHz. */
const STEP_MS = 1 / 96;
const STEPS = 15;
/** It is not known when the probes began: the code may be anywhere in its period. */
const PERIOD_MS = PERIOD_16K / 16;

/** The strongest few say where all of them are. */
const LOOKED_FOR = 5;

/** One window, judged. */
interface Judged {
  /** Power of each code against what was sent. */
  powers: number[];
  /** The line's loss by the middle one of the codes that should be there, as a power. */
  loss: number;
  /** Power a code has by chance. */
  chance: number;
}

/**
 * Level of each source in a return where it leaves the line. All of them have come the same way and are late by the same,
 * so the strong ones say where to look for the weak ones, and the middle one of those that should be there what the line takes away.
 * @param heard at 16 kHz, beginning with the first sample that may be judged; when exactly the probes began is not known
 * @param plannedDb level of each code by the plan; null for closed
 * @param levelDb root of the mean square at which each was sent, dBFS
 */
export function crosspointsAtFarEnd(heard: Float32Array, { codes, empty }: Codes, plannedDb: readonly (number | null)[], levelDb: number): FarEnd {
  const starts: number[] = [];
  for (let at = 0; at + PERIOD_16K <= heard.length; at += PERIOD_16K / BETWEEN) starts.push(at);
  const sent = 10 ** (levelDb / 10);
  const judged = windowSpectra(heard, starts).flatMap((window) => judge(window, codes, empty, plannedDb, sent));
  if (judged.length === 0) return { measuredDb: codes.map(() => null), lineDb: null, floorDb: Infinity };
  const clearness = ({ loss, chance }: Judged): number => loss / Math.max(1e-18, chance);
  const clearest = Math.max(...judged.map(clearness));
  const good = judged.filter((one) => clearness(one) >= clearest / 2);
  const middleOf = (value: (one: Judged) => number): number => middle(good.map(value));
  const floor = middleOf(({ chance, loss }) => (OVER_CHANCE * chance) / loss);
  const relative = codes.map((_, k) => middleOf(({ powers, loss }) => powers[k] / loss));
  return {
    measuredDb: relative.map((power) => (power > floor ? 10 * Math.log10(power) : null)),
    lineDb: 10 * Math.log10(Math.max(...good.map(({ loss }) => loss))),
    floorDb: 10 * Math.log10(Math.max(1e-15, floor)),
  };
}

function judge(window: WindowSpectrum, codes: readonly Code[], empty: Uint16Array, plannedDb: readonly (number | null)[], sent: number): Judged[] {
  const delayMs = commonDelay(codes, window);
  if (delayMs === null) return [];
  const powers = codes.map((code) => likeness(code, window, delayMs).size ** 2 / sent);
  const chance = codes.reduce((sum, code) => sum + byChance(code, empty, window), 0) / codes.length / sent;
  const losses = powers.flatMap((power, k) => (plannedDb[k] === null || power < OVER_CHANCE * chance ? [] : [power / 10 ** (plannedDb[k] / 10)]));
  return [{ powers, chance, loss: losses.length > 0 ? middle(losses) : 1 }];
}

/** Where all codes of a window are most alike themselves, ms; null when none is there. */
function commonDelay(codes: readonly Code[], window: WindowSpectrum): number | null {
  const energy = ({ bins }: Code): number => bins.reduce((sum, bin) => sum + window.re[bin] ** 2 + window.im[bin] ** 2, 0);
  const strongest = codes.map((code) => ({ code, energy: energy(code) })).sort((a, b) => b.energy - a.energy);
  const found = strongest.slice(0, LOOKED_FOR).flatMap(({ code }) => {
    const arrived = findCode(code, [window], [0], PERIOD_MS);
    return arrived ? [{ code, ...arrived }] : [];
  });
  if (found.length === 0) return null;
  const about = found.reduce((best, one) => (one.certainty > best.certainty ? one : best)).delayMs[0];
  let best = { delayMs: about, sum: -1 };
  for (let step = -STEPS; step <= STEPS; step++) {
    const delayMs = about + step * STEP_MS;
    const sum = found.reduce((total, { code }) => total + likeness(code, window, delayMs).size ** 2, 0);
    if (sum > best.sum) best = { delayMs, sum };
  }
  return best.delayMs;
}

/** Mean square of what a code would have by chance, from what sounds in lines of nobody. */
function byChance(code: Code, empty: Uint16Array, { re, im }: WindowSpectrum): number {
  let [sum, sent] = [0, 0];
  for (let k = 0; k < code.bins.length; k++) {
    const own = code.re[k] ** 2 + code.im[k] ** 2;
    sum += own * (re[empty[k]] ** 2 + im[empty[k]] ** 2);
    sent += own;
  }
  return sum / sent ** 2;
}
