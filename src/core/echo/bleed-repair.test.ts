import { describe, expect, it } from 'vitest';
import { powerToDb } from '../dsp/decibels';
import { simulateTake } from '../practice/take-with-bleed';
import { repairBleed } from './bleed-repair';

const RATE = 48000;
const stretchOf = (samples: Float32Array) => (from: number, length: number) => {
  const out = new Float32Array(length);
  const start = Math.max(0, from);
  const end = Math.min(samples.length, from + length);
  if (end > start) out.set(samples.subarray(start, end), start - from);
  return out;
};

/** Power of the difference between a signal and the clean voice, over samples that pass. */
function restDb(signal: Float32Array, clean: Float32Array, where: (i: number) => boolean): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < signal.length; i++) {
    if (!where(i)) continue;
    sum += (signal[i] - clean[i]) ** 2;
    count++;
  }
  return powerToDb(sum / count);
}

async function repaired(seed: number, gainDb: number, bleeds: boolean) {
  const { clean, tracks } = simulateTake({ people: 2, seconds: 26, seed, overlapSeconds: 0.6, noiseDb: -96, bleed: bleeds ? [{ source: 0, target: 1, gainDb, delayMs: 231 }] : [] });
  const parts: Float32Array[] = [];
  for await (const part of repairBleed({ lengthSamples: tracks[1].length, track: stretchOf(tracks[1]), sources: [{ delaySamples: Math.round(0.231 * RATE), gainDb: bleeds ? gainDb : -35, read: stretchOf(tracks[0]) }] })) parts.push(part);
  const out = new Float32Array(tracks[1].length);
  parts.reduce((at, part) => (out.set(part, at), at + part.length), 0);
  return { clean: clean[1], before: tracks[1], after: out };
}

const speaks = (clean: Float32Array) => (i: number) => clean[i] !== 0;
const rests = (clean: Float32Array) => (i: number) => clean[i] === 0;

describe('bleed repair', () => {
  // Twelve talkers are measured by the lab.
  it.each([1, 9])('takes 20 dB of static −35 dB bleed away and never harms the voice (talkers %i)', async (seed) => {
    const { clean, before, after } = await repaired(seed, -35, true);
    const gained = restDb(before, clean, rests(clean)) - restDb(after, clean, rests(clean));
    expect(gained, 'where only the other speaks').toBeGreaterThan(20);
    expect(restDb(after, clean, speaks(clean)), 'while the owner speaks').toBeLessThanOrEqual(restDb(before, clean, speaks(clean)));
  });

  it('says every second or two how far it is, so that others get their turn, and is as long as the track', async () => {
    const [lengthSamples, said] = [20 * RATE + 77, [] as number[]];
    const silence = (_: number, length: number) => new Float32Array(length);
    let samples = 0;
    for await (const part of repairBleed({ lengthSamples, track: silence, sources: [{ delaySamples: 0, gainDb: -30, read: silence }], onProgress: (share) => void said.push(share) })) samples += part.length;
    expect(samples).toBe(lengthSamples);
    expect(said.length).toBeGreaterThan(20);
    expect(said).toEqual([...said].sort((a, b) => a - b));
    expect(said.at(-1)).toBeCloseTo(1, 1);
  });

  it('leaves a track alone that holds nothing of the other', async () => {
    const { before, after } = await repaired(21, 0, false);
    const touched = restDb(after, before, () => true);
    const level = restDb(before, new Float32Array(before.length), () => true);
    expect(touched - level).toBeLessThan(-45);
  });
});
