import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { CheckForGuest, CheckReport } from '@/core/lines/check-messages';
import type { CheckSetup } from '@/core/linecheck/setup';
import { CheckGuests } from './check-guests';

const SETUP: CheckSetup = {
  seed: 7,
  sources: ['voice:maren', 'voice:runa'],
  listeners: ['return:runa', 'return:priya', 'phones:maren'],
  plannedDb: [
    [-3, null],
    [-3, -6],
    [null, 0],
  ],
  sourcesDb: -40,
};

/** Pages of a line check, of which those that are named are there. */
function pages(...there: string[]) {
  const told: { seat: string; what: CheckForGuest }[] = [];
  const guests = new CheckGuests({
    check: (seat, what) => {
      if (there.includes(seat)) told.push({ seat, what: what as CheckForGuest });
      return there.includes(seat);
    },
  });
  const report = (number: number): CheckReport => ({ type: 'check-report', number, sources: { measuredDb: [-3.2, null], lineDb: 0, floorDb: null }, listeners: { measuredDb: [0, null, null], lineDb: 0, floorDb: -70 }, leak: null });
  return { guests, told, report };
}

describe('the guests’ pages in a line check', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('are told what should arrive in their own return, and only those that are there are waited for', async () => {
    const { guests, told, report } = pages('runa');
    guests.invite(SETUP, 3000, 12);
    guests.begins('sources');
    expect(told.map(({ seat, what }) => [seat, what.type])).toEqual([['runa', 'check'], ['runa', 'check-stage']]);
    expect(told[0].what).toMatchObject({ own: 0, listeners: 3, plannedDb: [-3, null], sourcesDb: -40 });
    let over = false;
    const all = guests.reports().then(() => (over = true));
    await vi.advanceTimersByTimeAsync(1000);
    expect([over, told.at(-1)!.what]).toEqual([false, { type: 'check-over', number: told[0].what.number, brokenOff: false }]);
    guests.take('priya', report(told[0].what.number));
    guests.take('runa', report(told[0].what.number));
    await all;
    expect([...guests.said.keys()]).toEqual(['return:runa']);
    expect(guests.said.get('return:runa')!.sources).toEqual({ measuredDb: [-3.2, null], lineDb: 0, floorDb: Infinity });
  });

  it('are not waited for without end, and what one says of an earlier check does not count', async () => {
    const { guests, told, report } = pages('runa', 'priya');
    guests.invite(SETUP, 3000, 12);
    const earlier = told[0].what.number;
    guests.invite(SETUP, 3000, 12);
    guests.take('priya', report(earlier));
    guests.take('runa', report(told.at(-1)!.what.number));
    let over = false;
    void guests.reports().then(() => (over = true));
    await vi.advanceTimersByTimeAsync(20_000);
    expect(over).toBe(false);
    await vi.advanceTimersByTimeAsync(10_000);
    expect([over, guests.said.get('return:priya')]).toEqual([true, null]);
  });
});
