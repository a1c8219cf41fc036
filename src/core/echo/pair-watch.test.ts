import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { PairWatch } from './pair-watch';

const BLOCK = 128;
const RATE = 48_000;

/** Noise that comes and goes as words do. */
function words(seconds: number, seed: number): Float32Array {
  const random = createRandom(seed);
  let [low, left, gain] = [0, 0, 0];
  return Float32Array.from({ length: seconds * RATE }, () => {
    if (left-- <= 0) [left, gain] = [random.between(0.05, 0.3) * RATE, random.next() < 0.3 ? 0 : random.between(0.05, 0.3)];
    low += 0.3 * (random.normal() - low);
    return gain * low;
  });
}

/** Feeds a pair block by block; what is known at the end. */
function watch(source: Float32Array, sent: Float32Array, leastMs?: number, past = 0) {
  const pair = new PairWatch(past);
  pair.leastMs = leastMs;
  const readings = [];
  for (let at = 0; at + BLOCK <= source.length; at += BLOCK) {
    const part = sent.subarray(at, at + BLOCK);
    const reading = pair.take(source.subarray(at, at + BLOCK), part, part);
    if (reading) readings.push(reading);
  }
  return readings;
}

describe('one source watched for what its owner is sent', () => {
  const sent = words(12, 3);
  const own = words(12, 4);
  const back = (delayMs: number) => own.map((x, i) => x + 0.1 * (sent[i - (delayMs * RATE) / 1000] ?? 0));

  it('knows an echo to a tenth of a millisecond and a decibel, and looks every half second', () => {
    const readings = watch(back(120), sent);
    expect(readings.length).toBe(Math.floor((12 * RATE) / 3 / 8192));
    const { echo } = readings.at(-1)!;
    expect(Math.abs(echo!.delayMs - 120)).toBeLessThan(0.1);
    expect(Math.abs(echo!.levelDb! + 20)).toBeLessThan(1);
    // One that looks at another time finds the same.
    const { echo: later } = watch(back(120), sent, undefined, 0.4).at(-1)!;
    expect([Math.abs(later!.delayMs - 120) < 0.1, Math.abs(later!.levelDb! + 20) < 1]).toEqual([true, true]);
  });

  it('is the same however long the blocks are', () => {
    const readings = (block: number) => {
      const [pair, found, source] = [new PairWatch(), [] as object[], back(120)];
      for (let at = 0; at + block <= source.length; at += block) {
        const [one, two] = [source.subarray(at, at + block), sent.subarray(at, at + block)];
        const reading = pair.take(one, two, two);
        if (reading) found.push(reading);
      }
      return found;
    };
    expect(readings(300)).toEqual(readings(128));
  });

  it('says nothing of what comes sooner than it can have been there and back, nor of silence', () => {
    expect(watch(back(120), sent, 140).every(({ echo }) => echo === null)).toBe(true);
    expect(watch(own, sent).every(({ echo }) => echo === null)).toBe(true);
    expect(watch(own, new Float32Array(sent.length)).every(({ echo, told }) => echo === null && !told)).toBe(true);
  });
});
