import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createNaps, turnsUntil } from './pause';

/** Throws away what nobody holds any more, and gives what is left, bytes. */
function heap(): number {
  setFlagsFromString('--expose-gc');
  (runInNewContext('gc') as () => void)();
  return process.memoryUsage().heapUsed;
}

describe('turns until something has ended', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('end with it at once, and hand on what it gave or why it failed', async () => {
    let end: (result: number) => void = () => undefined;
    const { ended, turns } = turnsUntil(new Promise<number>((resolve) => (end = resolve)));
    let taken = 0;
    const all = (async () => {
      for (; turns.go(); taken++) await turns.rest(100);
      return ended;
    })();
    await vi.advanceTimersByTimeAsync(250);
    expect(taken).toBe(2);
    end(7);
    expect(await all).toBe(7);
    await turns.rest(100);
    expect(vi.getTimerCount()).toBe(0);
    const failed = turnsUntil(Promise.reject(new Error('The ring is gone.')));
    await expect(failed.ended).rejects.toThrow('The ring is gone.');
    expect(failed.turns.go()).toBe(false);
  });

  it('leave nothing behind, however many there are', async () => {
    const { turns } = turnsUntil(new Promise(() => undefined));
    const take = async (count: number) => {
      for (let k = 0; k < count; k++) {
        const rest = turns.rest(100);
        vi.advanceTimersByTime(100);
        await rest;
      }
    };
    await take(1000);
    const before = heap();
    // Half an hour of a recorder's.
    await take(18_000);
    expect((heap() - before) / 18_000, 'bytes a turn').toBeLessThan(40);
  });
});

describe('naps', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('end in their time, or all at once when what they waited for may be there', async () => {
    const naps = createNaps();
    const over: string[] = [];
    void naps.rest(100).then(() => over.push('short'));
    void naps.rest(9000).then(() => over.push('long'));
    await vi.advanceTimersByTimeAsync(100);
    expect(over).toEqual(['short']);
    naps.wake();
    await vi.advanceTimersByTimeAsync(0);
    expect([over, vi.getTimerCount()]).toEqual([['short', 'long'], 0]);
  });
});
