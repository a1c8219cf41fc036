import fc from 'fast-check';
import { expect, it } from 'vitest';
import { NO_HANDS } from '@/core/takes/plan-log';
import { createLogReader, ENTRY_WORDS, MOST_ENTRIES, writeEntry } from '../worklet/take-log';
import { followLog } from './follow-log';
import type { TakeMeta } from './kept-files';

const LOGGED = 0;

function setUp() {
  const memory = { log: new Float64Array(MOST_ENTRIES * ENTRY_WORDS), counters: new Int32Array(1) };
  const meta = { sessionClock: null, planChanges: [], pauses: [] } as unknown as TakeMeta;
  const follower = followLog(createLogReader(memory, LOGGED), meta);
  return {
    meta,
    follower,
    tell: (number: number) => follower.plan({ type: 'plan', number, plan: { number } as never, hands: NO_HANDS }),
    write: (type: 'begun' | 'plan' | 'paused' | 'ended', atSample: number, what = 0) => writeEntry(memory, LOGGED, type, atSample, what),
    kept: () => meta.planChanges.map(({ atSample, plan }) => [atSample, (plan as unknown as { number: number }).number]),
  };
}

it('a log is whole and in order, however messages, the audio thread and the reading of it pass each other', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('change', 'tell', 'read'), { maxLength: 60 }), (steps) => {
      const { follower, tell, write, kept } = setUp();
      write('begun', 0, 4800);
      let [changed, told] = [0, 0];
      for (const step of steps) {
        // Both come in the order of the changes; either may be ahead of the other.
        if (step === 'change') write('plan', 128 * changed, changed++);
        else if (step === 'tell') tell(told++);
        else follower.read();
      }
      while (told < changed) tell(told++);
      write('ended', 128 * changed);
      follower.read();
      expect(kept()).toEqual(Array.from({ length: changed }, (_, k) => [128 * k, k]));
      expect(follower.missing()).toBeNull();
    }),
  );
});

it('what nobody tells of, and what was written over before it was read, is said', () => {
  const { follower, tell, write, kept } = setUp();
  write('plan', 0, 1);
  write('plan', 128, 2);
  tell(2);
  follower.read();
  expect(kept()).toEqual([[128, 2]]);
  expect(follower.missing()).toMatch(/^1 entry of this take’s log/);
  for (let k = 0; k < MOST_ENTRIES + 5; k++) write('plan', 256 + k, 2);
  write('plan', 9999, 3);
  follower.read();
  // The last may still be told of, until the take has ended.
  expect(follower.missing()).toMatch(/^7 entries/);
  write('ended', 10_000);
  follower.read();
  expect(follower.missing()).toMatch(/^8 entries/);
});

it('pauses and the clock of the beginning are kept; going on with a take does not move its clock', () => {
  const { follower, meta, write } = setUp();
  write('begun', 0, 4800);
  write('paused', 960, 48_000);
  write('begun', 2000, 99_999);
  follower.read();
  expect(meta).toMatchObject({ sessionClock: 4800, pauses: [{ atSample: 960, lengthSamples: 48_000 }] });
});
