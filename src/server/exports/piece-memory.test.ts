import { expect, test } from 'vitest';
import { PieceMemory } from './piece-memory';

test('memory that has come back is used again for pieces of its size, and let go once they have another', () => {
  const made: number[] = [];
  const memory = new PieceMemory((length) => {
    made.push(length);
    return new Int32Array(length);
  });
  const first = memory.take(2, 96_000);
  const second = memory.take(2, 96_000);
  expect(first[0]).not.toBe(second[0]);
  memory.giveBack(first);
  memory.giveBack(second);
  expect([memory.take(2, 96_000), memory.take(2, 96_000)]).toEqual([first, second]);
  expect(made.length).toBe(4);
  memory.giveBack(first);
  expect(memory.take(1, 96_000)).toHaveLength(1);
  expect(memory.take(2, 96_000), 'it was let go').not.toBe(first);
});
