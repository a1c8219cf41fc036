import { describe, expect, it } from 'vitest';
import type { DeskSeat } from './desk-data';
import { missingInPrepare, missingOf, nextStep, roomStates, type WorkFacts } from './readiness';

const seat = (id: string, role: DeskSeat['role'], line: DeskSeat['line'], practice: DeskSeat['practice'] = null) => ({ id, name: id, role, line, practice });
const practised = { voice: 'odalys', loudspeakers: false, network: 'good' } as const;
const host = seat('Maren', 'host', 'pair');
const LATER = '2030-01-01T00:00:00Z';
const quiet: WorkFacts = { seats: [host], invitations: [], lines: {}, noMicrophone: false, pads: 0, urgent: 0, check: 'done', call: 'off', recording: false, lastTake: null, takes: 0, openTake: false, nowMs: Date.parse('2029-01-01') };
const withSeat = (one: WorkFacts['seats'][number], more: Partial<WorkFacts> = {}): WorkFacts => ({ ...quiet, seats: [host, one], ...more });
const invited = (openedAt: string | null = null, expiresAt = LATER) => ({ invitations: [{ seat: 'Runa', expiresAt, openedAt }] });
const runa = seat('Runa', 'caller', 'link');

describe('what is missing of somebody', () => {
  const words = (facts: WorkFacts, id = 'Runa') => missingOf(facts, id)?.words ?? null;

  it('is a link, made, good and opened, for who comes by one', () => {
    expect(words(withSeat(runa))).toBe('Runa has no link yet.');
    expect(words(withSeat(runa, invited(null, '2028-01-01')))).toBe('Runa has a link that ran out.');
    expect(missingOf(withSeat(runa, invited()), 'Runa')).toMatchObject({ words: 'Runa has not opened the link yet.', waits: true });
    expect(words(withSeat(runa, invited('2028-06-01')))).toBeNull();
    expect(words(withSeat(runa, { ...invited(), lines: { Runa: 'waiting' } }))).toBeNull();
  });

  it('is both devices, plugged in and not one cable, for who comes by another program', () => {
    const pair = seat('Runa', 'caller', 'pair');
    for (const state of ['unplugged', 'one-end', 'away', 'refused', 'looped'] as const) expect(words(withSeat(pair, { lines: { Runa: state } }))).not.toBeNull();
    for (const state of ['plugged', 'silent', 'live', 'lost'] as const) expect(words(withSeat(pair, { lines: { Runa: state } }))).toBeNull();
  });

  it('is nothing of the host, of practice callers and of producers who come by themselves', () => {
    expect(words(quiet, 'Maren')).toBeNull();
    expect(words(withSeat(seat('Runa', 'caller', 'practice', practised)))).toBeNull();
    expect(words(withSeat(seat('Runa', 'producer', 'practice')))).toBeNull();
    expect(words(withSeat(seat('Runa', 'caller', 'practice')))).toBe('Runa has no line yet.');
  });
});

describe('the rooms of an episode', () => {
  it('count what the host can do, and not what is waited for', () => {
    expect(roomStates(quiet).prepare).toMatchObject({ state: 'todo', count: 1 });
    expect(roomStates(withSeat(runa, { noMicrophone: true })).prepare).toMatchObject({ count: 2, words: '2 things to do' });
    expect(roomStates(withSeat(runa, invited())).prepare.state).toBe('ready');
    const order = missingInPrepare({ ...quiet, seats: [host, runa, seat('Wen', 'caller', 'link')], ...invited() });
    expect(order.map(({ words }) => words)).toEqual(['Wen has no link yet.', 'Runa has not opened the link yet.']);
  });

  it('say what runs, what is unsafe and what is left open', () => {
    const live = roomStates({ ...quiet, call: 'running', urgent: 2, pads: 3, takes: 2 });
    expect(live.live.state).toBe('running');
    expect(live.hearing).toMatchObject({ state: 'todo', count: 2 });
    expect(live.sounds).toMatchObject({ state: 'ready', words: '3 on pads' });
    expect(live.takes).toMatchObject({ state: 'ready', words: '2 takes' });
    expect(roomStates({ ...quiet, openTake: true }).takes.state).toBe('todo');
  });
});

describe('the next useful thing', () => {
  const step = (facts: WorkFacts, here: Parameters<typeof nextStep>[1] = null) => nextStep(facts, here)?.words ?? null;

  it('goes from guests to links, to what is unsafe, to recording, to the take', () => {
    expect(step(quiet)).toBe('Add your guests');
    expect(step(withSeat(runa))).toBe('Invite Runa');
    const ready = withSeat(runa, invited());
    expect(step({ ...ready, urgent: 2 })).toBe('See 2 unsafe things');
    expect(step(ready)).toBeNull();
    expect(step({ ...ready, call: 'running', lines: { Runa: 'waiting' } })).toBe('Bring Runa up');
    expect(step({ ...ready, call: 'running' })).toBe('On to Live');
    expect(step({ ...ready, call: 'running', recording: true, urgent: 2 })).toBe('Back to the desk');
    expect(step({ ...ready, lastTake: 3 })).toBe('Listen to take 3');
    expect(step({ ...ready, openTake: true })).toBe('Seal the open take');
  });

  it('is not said where the host is at it', () => {
    expect(step(quiet, 'prepare')).toBeNull();
    expect(step(withSeat(runa, invited()), 'live')).toBeNull();
  });

  it('leaves alone what is missing of somebody while the call runs', () => {
    expect(step(withSeat(runa, { call: 'running' }))).toBe('On to Live');
    expect(step(withSeat(runa, { call: 'running', check: 'none' }))).toBe('Measure the lines');
  });
});
