import fc from 'fast-check';
import { expect, it } from 'vitest';
import { createSoundEnds, gainAtEnds, isWholeBetween, LEAD, TAIL } from './silent-ends';

const RATE = 48_000;

/** Noise of a room with a voice from one sample to another, in one of two channels. */
function sound(seconds: number, from: number, to: number, db: number): Float32Array[] {
  const level = 10 ** (db / 20);
  const room = (i: number) => 0.0005 * Math.sin(i * 1.7);
  return [Float32Array.from({ length: seconds * RATE }, (_, i) => room(i)), Float32Array.from({ length: seconds * RATE }, (_, i) => room(i) + (i >= from && i < to ? level * Math.sin(i / 20) : 0))];
}

it('what is cut off holds nothing, however the sound comes in pieces', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 5 * RATE }), fc.integer({ min: 4800, max: 3 * RATE }), fc.integer({ min: 1, max: 70_000 }), (from, long, piece) => {
      const [left, right] = sound(9, from, from + long, -30);
      const ends = createSoundEnds();
      for (let at = 0; at < left.length; at += piece) ends.push([left.subarray(at, at + piece), right.subarray(at, at + piece)]);
      const kept = ends.result()!;
      expect(Math.abs(kept.from - Math.max(0, from - LEAD))).toBeLessThanOrEqual(480);
      expect(Math.abs(kept.to - Math.min(left.length, from + long + TAIL))).toBeLessThanOrEqual(480);
    }),
    { numRuns: 30 },
  );
  const silent = createSoundEnds();
  silent.push(sound(2, 0, 0, 0));
  expect(silent.result()).toBeNull();
});

it('an end comes and goes gently where something was cut off, and is whole by the time somebody is heard', () => {
  const kept = { from: 48_000, to: 480_000 };
  expect(gainAtEnds(kept, 960_000, kept.from)).toBe(0);
  expect(gainAtEnds(kept, 960_000, kept.to)).toBe(0);
  for (const sample of [kept.from + LEAD - 480, 200_000, kept.to - TAIL + 480]) expect(gainAtEnds(kept, 960_000, sample)).toBe(1);
  expect(gainAtEnds({ from: 0, to: 1000 }, 1000, 0)).toBe(1);
  // A stretch is called whole just where all of it is.
  for (let first = kept.from; first < kept.to; first += 479) {
    const all = [0, 240, 478].every((k) => gainAtEnds(kept, 960_000, first + k) === 1);
    expect(isWholeBetween(kept, 960_000, first, first + 479), `from ${first}`).toBe(all);
  }
});
