import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { takeSampleAt, type TakePause } from './pauses';

describe('the samples of a take with pauses', () => {
  it('never run back, never faster than time, and lack exactly the pauses that are over', () => {
    const pauses = fc.array(fc.tuple(fc.integer({ min: 1, max: 1000 }), fc.integer({ min: 1, max: 500 })), { maxLength: 5 }).map((steps): TakePause[] => {
      let at = 0;
      return steps.map(([later, lengthSamples]) => ({ atSample: (at += later), lengthSamples }));
    });
    fc.assert(
      fc.property(pauses, fc.integer({ min: 0, max: 10_000 }), (all, time) => {
        const now = takeSampleAt(time, all);
        const next = takeSampleAt(time + 1, all);
        expect(next - now === 0 || next - now === 1).toBe(true);
        const total = all.reduce((sum, { lengthSamples }) => sum + lengthSamples, 0);
        expect(takeSampleAt(100_000, all)).toBe(100_000 - total);
      }),
    );
  });
});
