import { describe, expect, it } from 'vitest';
import { simulateTake, type SimulatedBleed } from '../practice/take-with-bleed';
import { measureIsolation, type Isolation } from './isolation';

async function matrix(people: number, seconds: number, seed: number, bleed: SimulatedBleed[], noiseDb = -78): Promise<Isolation[]> {
  const { tracks } = simulateTake({ people, seconds, seed, bleed, noiseDb });
  return measureIsolation({
    count: people,
    targets: tracks.map((_, k) => k),
    lengthSamples: tracks[0].length,
    read: (track, from, length) => {
      const out = new Float32Array(length);
      for (let i = Math.max(0, -from); i < length && from + i < tracks[track].length; i++) out[i] = tracks[track][from + i];
      return out;
    },
  });
}

describe('the isolation matrix', () => {
  it.each([-20, -50])('finds %i dB of bleed within 2 dB and 1 ms, and nothing that is not there', async (gainDb) => {
    const bleed = [
      { source: 0, target: 2, gainDb, delayMs: 240 },
      { source: 1, target: 2, gainDb: gainDb + 2, delayMs: 61 },
    ];
    for (const { source, target, verdict, gainDb: level, delayMs } of await matrix(3, 50, 100 - gainDb, bleed)) {
      const truth = bleed.find((one) => one.source === source && one.target === target);
      if (!truth) {
        expect(verdict, `${source} in ${target}`).toBe('clean');
        continue;
      }
      expect(verdict, `${source} in ${target}`).toBe('bleeds');
      expect(Math.abs(level! - truth.gainDb), `${source} in ${target}: ${level} dB`).toBeLessThan(2);
      expect(Math.abs(delayMs! - truth.delayMs)).toBeLessThan(1);
    }
  });

  it('calls clean takes clean, whatever the voices', async () => {
    for (const { verdict } of await matrix(3, 30, 1, [])) expect(verdict).toBe('clean');
    // Gated voices: digital silence between the words, so that two of them hardly meet at all.
    for (const { verdict } of await matrix(3, 30, 2, [], -Infinity)) expect(verdict).toBe('clean');
  });

  it('knows that a silent track holds nobody, and that a silent source cannot be looked for', async () => {
    const { tracks } = simulateTake({ people: 2, seconds: 10, seed: 5, bleed: [], noiseDb: -78 });
    const found = await measureIsolation({ count: 2, targets: [0, 1], lengthSamples: tracks[0].length, read: (track, from, length) => (track === 0 ? tracks[0].slice(Math.max(0, from), Math.max(0, from) + length) : new Float32Array(length)) });
    expect(found.map(({ verdict }) => verdict)).toEqual(['not-measurable', 'clean']);
  });
});
