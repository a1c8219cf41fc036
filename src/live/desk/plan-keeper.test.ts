import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { setCrosspoint, setSource } from '@/core/hearing/edit';
import { createPlan, type HearingPlan } from '@/core/hearing/plan';
import { createPlanKeeper, type PlanSaving } from './plan-keeper';

const base = createPlan([
  { id: 'maren', name: 'Maren', role: 'host', line: 'pair', reflexive: 'herself' },
  { id: 'odalys', name: 'Odalys', role: 'caller', line: 'practice', reflexive: 'herself' },
]);
const quieter = setSource(base, 'voice:maren', { trimDb: -3 });

/** A server with one plan, as the real one answers. */
function fakeServer() {
  const server = { version: 1, plan: base, away: false, writes: 0 };
  vi.stubGlobal('fetch', (_: string, init?: { method: string; body: string }) => {
    if (server.away) return Promise.reject(new TypeError('network'));
    if (!init?.method) return Promise.resolve(Response.json({ version: server.version, plan: server.plan }));
    const { version, plan } = JSON.parse(init.body) as { version: number; plan: HearingPlan };
    if (version !== server.version) return Promise.resolve(Response.json({ code: 'plan-changed', message: 'changed' }, { status: 409 }));
    Object.assign(server, { plan, version: version + 1, writes: server.writes + 1 });
    return Promise.resolve(Response.json({ version: server.version }));
  });
  return server;
}

describe('the plan keeper', () => {
  const states: PlanSaving[] = [];
  const merged: HearingPlan[] = [];
  const keep = () =>
    createPlanKeeper('e', { version: 1, plan: base }, { onState: (state) => states.push(state), onMerged: (plan) => merged.push(plan) });
  beforeEach(() => {
    states.length = merged.length = 0;
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
});
