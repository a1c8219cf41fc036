import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { StreamDelay } from './stream-delay';

const RATE = 48_000;

/** Speech-like sound, the same stream again later, quieter, with a coder's noise. */
function stream(seed: number, seconds: number) {
  const random = createRandom(seed);
  let low = 0;
  return Float32Array.from({ length: seconds * RATE }, (_, i) => {
    low += 0.15 * (random.next() - 0.5 - low);
    return low * Math.max(0, Math.sin((2 * Math.PI * 3.1 * i) / RATE)) * (i % (5 * RATE) < 4 * RATE ? 1 : 0.02);
  });
}

/** @param movesBy a player that catches up, seconds every four seconds */
function look(delaySeconds: number | null, seed: number, movesBy = 0): (number | null)[] {
  const sent = stream(seed, 30);
  const other = stream(seed + 100, 30);
  const noise = createRandom(seed + 7);
  const delay = new StreamDelay();
  const found: (number | null)[] = [];
  for (let at = 0; at < sent.length; at += RATE) {
    delay.sent(sent.subarray(at, at + RATE));
    delay.heard(Float32Array.from({ length: RATE }, (_, i) => {
      const from = delaySeconds === null ? other[at + i] : (sent[Math.round(at + i - delaySeconds * RATE - movesBy * RATE * Math.floor(at / (4 * RATE)))] ?? 0);
      return 0.6 * from + 0.003 * (noise.next() - 0.5);
    }));
    if (at % (4 * RATE) === 0) found.push(delay.find());
  }
  return found;
}

describe('how late a stream comes back', () => {
  it.each([[0.4, 1], [3.217, 2], [11.8, 3]])('is heard, %f s', (seconds, seed) => {
    const found = look(seconds, seed);
    expect(found.at(-1)).toBeCloseTo(seconds, 2);
    for (const one of found) if (one !== null) expect(one).toBeCloseTo(seconds, 2);
  });

  it('is said as well where it moves: a desk stood still, or a player caught up', () => {
    const found = look(4, 5, -0.25);
    // It is that of the last seconds, as they were heard.
    expect(found.at(-1)).toBeGreaterThan(4 - 7 * 0.25 - 0.1);
    expect(found.at(-1)).toBeLessThan(4 - 4 * 0.25);
  });

  it('is not said of another sound', () => {
    expect(look(null, 4).filter((one) => one !== null)).toEqual([]);
  });
});
