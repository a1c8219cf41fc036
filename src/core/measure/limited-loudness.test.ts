import { describe, expect, it } from 'vitest';
import { createTruePeakLimiter } from '../dsp/true-peak-limiter';
import { simulateTake } from '../practice/take-with-bleed';
import { createRandom } from '../random';
import { createLimitedLoudness } from './limited-loudness';
import { createLoudnessMeasure } from './loudness';

const SEED = Number(process.env.SEED ?? 1);
const SECONDS = 40;

/** A mix of three people in stereo, one of them to one side. */
function mixOf(seed: number): Float32Array<ArrayBuffer>[] {
  const [a, b, c] = simulateTake({ people: 3, seconds: SECONDS, seed, bleed: [], noiseDb: -65 }).tracks;
  return [0.5, 1].map((share) => Float32Array.from(a, (sample, i) => sample + b[i] + share * c[i]));
}

const loudnessOf = (channels: readonly Float32Array[]) => {
  const measure = createLoudnessMeasure(48_000, channels.length);
  measure.push(channels);
  return measure.result();
};

function forecastOf(channels: readonly Float32Array[], cut: () => number) {
  const { length } = channels[0];
  const forecast = createLimitedLoudness(length, channels.length);
  for (let at = 0; at < length; ) {
    const to = Math.min(length, at + cut());
    forecast.push(channels.map((samples) => samples.subarray(at, to)));
    at = to;
  }
  return forecast;
}

describe('how loud a mix will be behind a limiter', () => {
  it.each([0, 1, 2])('is told to a tenth of a LU while the limiter takes a few decibels, and the gain for a loudness with it (case %i)', (k) => {
    const mix = mixOf(SEED + k);
    const random = createRandom(SEED + k);
    const forecast = forecastOf(mix, () => 1 + Math.floor(random.next() * 30_000));
    const before = loudnessOf(mix);
    const told = forecast.loudness();
    for (const value of ['integrated', 'momentaryMax', 'shortTermMax', 'range'] as const) expect(told[value]).toBeCloseTo(before[value], 9);
    let limited = 0;
    for (const targetLufs of [before.integrated, -16, -14, -13]) {
      const gainDb = forecast.gainFor(targetLufs, -1);
      expect(forecast.behindLimiter(gainDb, -1)).toBeCloseTo(targetLufs, 1);
      const limiter = createTruePeakLimiter(2, -1, gainDb);
      expect(Math.abs(loudnessOf(limiter.process(mix)).integrated - targetLufs), `${targetLufs} LUFS`).toBeLessThan(0.1);
      if (limiter.mostTakenDb() > 1) limited++;
    }
    expect(limited).toBeGreaterThan(0);
  });

  it('never falls with the gain', () => {
    const forecast = forecastOf(mixOf(SEED + 3), () => 48_000);
    const loud = Array.from({ length: 30 }, (_, gainDb) => forecast.behindLimiter(gainDb, -1));
    expect([...loud].sort((a, b) => a - b)).toEqual(loud);
  });
});
