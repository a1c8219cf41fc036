import { expect, test } from 'vitest';
import { createRandom } from '../../src/core/random';
import { growthPerHour } from './growth';

/** An hour and a half of a heap that fills up and is collected, with a leak of so much an hour below it. */
function heap(leak: number, seed: number) {
  const random = createRandom(seed);
  let garbage = 0;
  return Array.from({ length: 90 }, (_, minute) => {
    garbage = random.next() < 0.4 ? 0 : garbage + 12 * random.next();
    // What is loaded in the first minutes is no leak.
    return { minute, mb: 60 + 25 * Math.min(1, minute / 8) + garbage + (leak * minute) / 60 };
  });
}

test('a leak is told from garbage and from what is loaded once', () => {
  for (let seed = 1; seed <= 40; seed++) {
    for (const leak of [0, 5, 40]) expect(Math.abs(growthPerHour(heap(leak, seed), 10)! - leak), `seed ${seed}, ${leak} MB an hour`).toBeLessThan(2.5);
  }
});

test('from a few minutes nothing is told', () => {
  expect(growthPerHour(heap(5, 1).slice(0, 17), 10)).toBeNull();
});
