import { describe, expect, it } from 'vitest';
import { powerToDb } from '../src/core/dsp/decibels';
import { repairBleed } from '../src/core/echo/bleed-repair';
import { logSpectralDistance } from './log-spectral-distance';
import { stretchOf } from './read-wav';
import { recordedTake, type RecordedBleed } from './recorded-take';

// Recorded talkers (lab/recorded-voices.ts) who take turns and interrupt each other; what more was seen stands in docs/TAKES.md.

const RATE = 48_000;
const SECONDS = 44;
const WINDOW = 2400;
/** The first seconds tell little of a path. */
const FROM = 3 * RATE;
const WAY: RecordedBleed = { source: 0, target: 1, gainDb: -28, delayMs: 187, shape: 'flat', reverberationMs: 200, carries: 'voice' };

function power(one: Float32Array, other: Float32Array, at: number): number {
  let sum = 0;
  for (let i = at; i < at + WINDOW; i++) sum += (one[i] - other[i]) ** 2;
  return sum / WINDOW;
}

/** How much less of the others there is while the owner is silent, in seconds `from` to `until`, and how far the owner's speech is from what it was, before and after; dB. */
async function judge(seed: number, bleed: readonly RecordedBleed[]) {
  const take = { people: 3, seconds: SECONDS, seed, noiseDb: -78, overlap: 0.3 };
  const { tracks, delaysMs } = recordedTake({ ...take, bleed });
  const { clean, tracks: alone } = recordedTake({ ...take, bleed: [] });
  const [before, wanted, voice] = [tracks[1], alone[1], clean[1]];
  const after = new Float32Array(before.length);
  let at = 0;
  for await (const piece of repairBleed({ lengthSamples: before.length, track: stretchOf(before), sources: bleed.map(({ source, gainDb }, k) => ({ delaySamples: Math.round((delaysMs[k] * RATE) / 1000), gainDb, read: stretchOf(tracks[source]) })) })) {
    after.set(piece, at);
    at += piece.length;
  }
  expect(at).toBe(before.length);
  const silent = new Float32Array(WINDOW);
  const speaks = (sample: number): boolean => sample >= FROM && power(voice.subarray(sample - (sample % WINDOW), sample - (sample % WINDOW) + WINDOW), silent, 0) > 1e-5;
  return {
    lessDb(from: number, until: number): number {
      let [was, is] = [0, 0];
      for (let i = Math.max(FROM, from * RATE); i + WINDOW <= until * RATE; i += WINDOW) {
        if (power(voice.subarray(i, i + WINDOW), silent, 0) > 1e-9) continue;
        was += power(before, wanted, i);
        is += power(after, wanted, i);
      }
      return powerToDb(was / is);
    },
    distances: { before: logSpectralDistance(wanted, before, speaks), after: logSpectralDistance(wanted, after, speaks) },
  };
}

describe('repair of recorded voices', { timeout: 120_000 }, () => {
  it.each([
    { what: 'two at once, the one through a telephone’s band', seed: 71, bleed: [WAY, { ...WAY, source: 2, gainDb: -33, delayMs: 95, shape: 'telephone' as const, reverberationMs: 300 }], leastDb: 24 },
    { what: 'a room and a delay that change in the middle', seed: 72, bleed: [{ ...WAY, moves: { atSeconds: SECONDS / 2, delayMs: 199 } }], leastDb: 24 },
    { what: 'a line that codes it there and back', seed: 73, bleed: [{ ...WAY, delayMs: 40, line: { kbps: 48, loss: 0, jumpsPerSecond: 0 } }], leastDb: 20 },
  ])('takes them out and does no harm: $what', async ({ seed, bleed, leastDb }) => {
    const { lessDb, distances } = await judge(seed, bleed);
    expect(lessDb(0, SECONDS), 'where only the others speak, dB less').toBeGreaterThan(leastDb);
    if (bleed.some((one) => 'moves' in one)) expect(lessDb(SECONDS / 2 - 2, SECONDS / 2 + 3), 'when it changes').toBeGreaterThan(14);
    // A hundredth of a decibel is nothing.
    expect(distances.after, 'what the owner says').toBeLessThan(distances.before + 0.01);
  });
});
