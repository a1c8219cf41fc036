import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { createTruePeakMeasure } from '../measure/true-peak';
import { gainToDb } from './decibels';
import { createTruePeakLimiter, LIMITER_DELAY } from './true-peak-limiter';

function limit(samples: Float32Array, gainDb: number): Float32Array {
  const limiter = createTruePeakLimiter(1, -1, gainDb);
  const out = new Float32Array(samples.length);
  for (let at = 0; at < samples.length; at += 1000) out.set(limiter.process([samples.subarray(at, at + 1000)])[0], at);
  return out;
}

describe('the true-peak limiter', () => {
  it('keeps everything under the ceiling, between samples as well, and what is below it as it was', () => {
    const random = createRandom(8);
    const loud = Float32Array.from({ length: 96_000 }, (_, i) => (i % 24_000 < 12_000 ? 0.9 : 0.1) * Math.sin(0.77 * Math.PI * i) + random.between(-0.3, 0.3));
    const peak = createTruePeakMeasure();
    peak.push(limit(loud, 9));
    expect(gainToDb(peak.result())).toBeLessThanOrEqual(-1);
    expect(gainToDb(peak.result())).toBeGreaterThan(-2);
    const quiet = loud.map((sample) => sample * 0.2);
    const out = limit(quiet, 0);
    for (let i = LIMITER_DELAY; i < out.length; i++) expect(Math.abs(out[i] - quiet[i - LIMITER_DELAY])).toBeLessThan(1e-6);
  });

  it('lets go after a peak: what is below the ceiling is as loud again two seconds later', () => {
    const random = createRandom(9);
    // One loud word in the middle of quiet talk.
    const talk = Float32Array.from({ length: 240_000 }, (_, i) => (i > 24_000 && i < 48_000 ? 1.3 : 0.3) * random.between(-1, 1));
    const out = limit(talk, 0);
    let most = 0;
    for (let i = 144_000; i < out.length; i++) most = Math.max(most, Math.abs(out[i] - talk[i - LIMITER_DELAY]));
    expect(most).toBeLessThan(1e-6);
  });
});
