import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_HABITS, habitsSchema, otherThan, ownHabits, ownHabitsSchema, type DeskHabits } from './habits';

const habits: fc.Arbitrary<DeskHabits> = fc.record({
  coughKeepsOut: fc.record({ callers: fc.boolean(), program: fc.boolean() }),
  listenSeconds: fc.integer({ min: 5, max: 3600 }),
  talkDimDb: fc.integer({ min: 0, max: 40 }),
  recordMixes: fc.boolean(),
  recordTalkback: fc.boolean(),
  recordProcessed: fc.boolean(),
  stopAfterMinutes: fc.integer({ min: 0, max: 1440 }),
});

describe('habits of a show and of one episode', () => {
  it('give an episode back what was chosen for it, and keep only what is other than the show’s', () => {
    fc.assert(
      fc.property(habits, habits, (show, episode) => {
        const own = ownHabitsSchema.parse(JSON.parse(JSON.stringify(ownHabits(show, episode))));
        expect({ ...show, ...own }).toEqual(episode);
        expect(Object.keys(own).sort()).toEqual(otherThan(show, episode).sort());
        expect(ownHabits(show, { ...show })).toEqual({});
      }),
    );
  });

  it('refuse what no desk can do', () => {
    expect(habitsSchema.safeParse(DEFAULT_HABITS).success).toBe(true);
    for (const wrong of [{ ...DEFAULT_HABITS, listenSeconds: 0 }, { ...DEFAULT_HABITS, more: 1 }, { recordMixes: true }]) expect(habitsSchema.safeParse(wrong).success).toBe(false);
    expect(ownHabitsSchema.safeParse({ stopAfterMinutes: -1 }).success).toBe(false);
  });
});
