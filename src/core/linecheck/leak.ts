import { codeLevelsDb } from './code-level';
import { PERIOD_16K, type Code } from './codes';
import { findCode } from './find-code';
import { middle } from './middle';
import { LEAST_DB } from './ways-back';
import { createWhitener } from './whiten-microphone';
import { windowSpectra } from './window-spectrum';

/** How much of what a loudspeaker or a headphone is given its own microphone hears. */
export interface Leak {
  /** Energy of a voice on that way, dB. */
  gainDb: number;
  delayMs: number;
}

const PERIOD_MS = PERIOD_16K / 16;

/**
 * A code in what is played and in what is recorded at one place, both by one clock.
 * @param played at 16 kHz
 * @param recorded at 16 kHz, from the same moment on
 * @returns null when it is not in both
 */
export function findLeak(played: Float32Array, recorded: Float32Array, code: Code): Leak | null {
  const periods = Math.floor(Math.min(played.length, recorded.length) / PERIOD_16K);
  const starts = Array.from({ length: periods }, (_, k) => k * PERIOD_16K);
  const look = (signal: Float32Array) => {
    // Where it begins in its period is not known, so all of the period is looked at.
    const found = findCode(code, windowSpectra(createWhitener(signal).apply(signal), starts), starts.map(() => 0), PERIOD_MS);
    if (!found) return null;
    const windows = windowSpectra(signal, starts).map((spectrum) => ({ spectrum, apart: true }));
    const [{ db }] = codeLevelsDb([{ code, delaysMs: found.delayMs }], windows);
    return { db, delaysMs: found.delayMs };
  };
  const [out, back] = [look(played), look(recorded)];
  if (!out || !back) return null;
  const later = out.delaysMs.map((delay, k) => (((back.delaysMs[k] - delay) % PERIOD_MS) + PERIOD_MS) % PERIOD_MS);
  const gainDb = back.db - out.db;
  return gainDb > LEAST_DB ? { gainDb, delayMs: middle(later) } : null;
}
