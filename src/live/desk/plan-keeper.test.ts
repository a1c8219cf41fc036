import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { setCrosspoint, setSource } from '@/core/hearing/edit';
import { createPlan, type HearingPlan } from '@/core/hearing/plan';
import { createPlanKeeper, type PlanSaving, type StoredPlan } from './plan-keeper';

const base = createPlan([
  { id: 'maren', name: 'Maren', role: 'host', line: 'pair', reflexive: 'herself' },
  { id: 'odalys', name: 'Odalys', role: 'caller', line: 'practice', reflexive: 'herself' },
]);
const quieter = setSource(base, 'voice:maren', { trimDb: -3 });

/** A server with one plan, as the real one answers. */
function fakeServer() {
  const server = { version: 1, plan: base, away: false, mute: false, writes: 0 };
  vi.stubGlobal('fetch', (address: string, init?: { method: string; body: string }) => {
    // A keeper of another test may still try.
    if (server.away || address !== '/api/episodes/e/plan') return Promise.reject(new TypeError('network'));
    if (!init?.method) return Promise.resolve(Response.json({ version: server.version, plan: server.plan }));
    const { version, plan } = JSON.parse(init.body) as { version: number; plan: HearingPlan };
    if (version + 1 === server.version && JSON.stringify(plan) === JSON.stringify(server.plan)) return Promise.resolve(Response.json({ version: server.version }));
    if (version !== server.version) return Promise.resolve(Response.json({ code: 'plan-changed', message: 'changed' }, { status: 409 }));
    Object.assign(server, { plan, version: version + 1, writes: server.writes + 1 });
    if (server.mute) return new Promise(() => undefined);
    return Promise.resolve(Response.json({ version: server.version }));
  });
  return server;
}

describe('the plan keeper', () => {
  const states: PlanSaving[] = [];
  const merged: HearingPlan[] = [];
  const kept = new Map<string, string>();
  const keep = (first: StoredPlan = { version: 1, plan: base }) =>
    createPlanKeeper('e', first, { onState: (state) => states.push(state), onMerged: (plan) => merged.push(plan) });
  beforeEach(() => {
    states.length = merged.length = 0;
    kept.clear();
    vi.stubGlobal('localStorage', { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, text: string) => kept.set(key, text), removeItem: (key: string) => kept.delete(key) });
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('stores the last of many quick changes once', async () => {
    const server = fakeServer();
    const keeper = keep();
    for (let db = -1; db >= -20; db--) keeper.changed(setSource(base, 'voice:maren', { trimDb: db }));
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.writes).toBe(1);
    expect(server.plan.sources['voice:maren']?.trimDb).toBe(-20);
    expect(states.at(-1)).toBe('saved');
  });

  it('tries again while the server is away, and loses nothing', async () => {
    const server = fakeServer();
    server.away = true;
    const keeper = keep();
    keeper.changed(quieter);
    await vi.advanceTimersByTimeAsync(3000);
    expect(states.at(-1)).toBe('failed');
    server.away = false;
    await vi.advanceTimersByTimeAsync(3000);
    expect(server.plan).toEqual(quieter);
    expect(states.at(-1)).toBe('saved');
  });

  it('puts its changes together with those of another window', async () => {
    const server = fakeServer();
    const theirs = setCrosspoint(base, 'voice:odalys', 'program', { open: true, gainDb: -5 });
    Object.assign(server, { plan: theirs, version: 2 });
    const keeper = keep();
    keeper.changed(quieter);
    await vi.advanceTimersByTimeAsync(3000);
    expect(server.plan).toEqual({ ...quieter, exceptions: theirs.exceptions });
    expect(merged).toEqual([server.plan]);
    expect(server.version).toBe(3);
  });

  const louder = setSource(base, 'voice:maren', { trimDb: 3 });
  const reopened = async (server: { version: number; plan: HearingPlan }) => {
    const bringing = keep({ version: server.version, plan: server.plan }).bringBack();
    await vi.advanceTimersByTimeAsync(0);
    return (await bringing)?.(server.plan) ?? null;
  };

  it('brings back what a window that died had changed while the server was away', async () => {
    const server = fakeServer();
    server.away = true;
    keep().changed(quieter);
    await vi.advanceTimersByTimeAsync(300);
    server.away = false;
    expect(await reopened(server)).toEqual(quieter);
    // Another computer changed something else meanwhile, and then the same: what it did is newer.
    const elsewhere = setCrosspoint(base, 'voice:odalys', 'program', { open: true, gainDb: -5 });
    expect(await reopened(Object.assign(server, { version: 2, plan: elsewhere }))).toEqual({ ...quieter, exceptions: elsewhere.exceptions });
    expect(await reopened(Object.assign(server, { version: 3, plan: louder }))).toBeNull();
    expect(kept.size).toBe(0);
  });

  it.each([
    ['and nothing else was changed', quieter, null],
    ['and the same was changed once more before the window closed', louder, louder],
  ])('knows that what was sent had arrived although nobody heard the answer, %s', async (_, last, back) => {
    const server = fakeServer();
    server.mute = true;
    const keeper = keep();
    keeper.changed(quieter);
    await vi.advanceTimersByTimeAsync(300);
    if (last !== quieter) keeper.changed(last);
    keeper.flush();
    server.mute = false;
    expect(server.plan).toEqual(quieter);
    expect(await reopened(server)).toEqual(back);
    expect(server.writes).toBe(1);
  });

  it('keeps nothing here of what the server has', async () => {
    fakeServer();
    const keeper = keep();
    keeper.changed(quieter);
    await vi.advanceTimersByTimeAsync(300);
    expect(kept.size).toBe(0);
    kept.set('brisk-lantern.unsent-plan.e', '{"version":1}');
    expect(await keeper.bringBack()).toBeNull();
    expect(kept.size).toBe(0);
  });
});
