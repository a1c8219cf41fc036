import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import type { CompiledPlan } from '@/core/hearing/compile';
import { setSource } from '@/core/hearing/edit';
import type { HearingPlan } from '@/core/hearing/plan';
import { deskData } from '../testing/desk-data';
import { NO_WIRING } from '@/core/hearing/wiring';
import { DeskPlan } from './desk-plan';
import { initialDeskState } from './initial-desk-state';
import { keptConditions } from '../testing/kept-conditions';

/** A desk's plan without a desk, over a server that answers as the real one does. */
function openPlan() {
  const data = deskData();
  const store = createStore(() => initialDeskState(data));
  const heard = { inForce: [] as { compiled: CompiledPlan; rampSeconds?: number; number: number }[], pinned: new Set<string>(), ...keptConditions() };
  const server = { version: 1, plan: data.plan };
  vi.stubGlobal('fetch', (_: string, init?: { method?: string; body: string }) => {
    if (!init?.method) return Promise.resolve(Response.json(server));
    const { version, plan } = JSON.parse(init.body) as { version: number; plan: HearingPlan };
    if (version !== server.version) return Promise.resolve(Response.json({ code: 'plan-changed', message: 'changed' }, { status: 409 }));
    Object.assign(server, { plan, version: version + 1 });
    return Promise.resolve(Response.json({ version: server.version }));
  });
  const plan = new DeskPlan(data, store, {
    inForce: (compiled, { rampSeconds, number }) => heard.inForce.push({ compiled, rampSeconds, number }),
    pinned: () => heard.pinned,
    wiring: () => NO_WIRING,
    changed: () => undefined,
    conditions: heard.conditions,
  });
  const trim = (level: number) => (before: HearingPlan) => setSource(before, 'sounds:bed', { trimDb: level });
  const level = () => store.getState().plan.sources['sounds:bed']?.trimDb ?? 0;
  return { store, heard, server, plan, trim, level };
}

describe('the plan of the desk', () => {
  beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] }));
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('takes a ride of one fader back as one step, and what was done apart step by step', () => {
    const { plan, trim, level } = openPlan();
    for (const db of [-1, -2, -3]) plan.change(trim(db), 'bed');
    vi.advanceTimersByTime(1000);
    plan.change(trim(-9), 'bed');
    plan.change(trim(-12));
    plan.change(trim(-15));
    const back = [];
    for (let k = 0; k < 5; k++) {
      plan.undo();
      back.push(level());
    }
    expect(back).toEqual([-12, -9, -3, 0, 0]);
    plan.redo();
    plan.redo();
    expect(level()).toBe(-9);
    // A new change ends what could be done again.
    plan.change(trim(-20));
    plan.redo();
    expect(level()).toBe(-20);
  });

  it('is in force at once, with every change, and brings a caller up slowly', () => {
    const { plan, heard, store } = openPlan();
    expect(store.getState().plan.waiting).toEqual([]);
    plan.letGuestsWait();
    expect(store.getState().plan.waiting).toEqual(['runa']);
    plan.setWaiting('runa', false);
    expect(heard.inForce).toHaveLength(2);
    expect(heard.inForce[1].rampSeconds).toBeGreaterThan(0.1);
    const program = (compiled: CompiledPlan) => {
      const place = compiled.listenerIds.indexOf('program');
      return [...compiled.source.subarray(compiled.first[place], compiled.first[place + 1])].map((slot) => compiled.sourceIds[slot]);
    };
    expect(program(heard.inForce[0].compiled)).not.toContain('voice:runa');
    expect(program(heard.inForce[1].compiled)).toContain('voice:runa');
  });

  it('keeps both changes where another window changed the plan too, says what came, and takes no step back behind it', async () => {
    const { plan, heard, server, store, trim, level } = openPlan();
    server.version = 2;
    server.plan = setSource(server.plan, 'voice:priya', { on: false });
    plan.change(trim(-6));
    await vi.advanceTimersByTimeAsync(3000);
    expect(store.getState().plan.sources['voice:priya']?.on).toBe(false);
    expect(level()).toBe(-6);
    expect(server.plan).toEqual(store.getState().plan);
    expect(heard.said()).toHaveLength(1);
    expect(heard.said()[0]).toMatch(/^Another window changed the plan\. Taken over from it: .*priya.*\. Yours stayed: 1\.$/i);
    plan.undo();
    expect(level()).toBe(-6);
  });

  it('gives every plan that others can hear a number of its own, and none to what only the host hears', () => {
    const { plan, store, trim, heard } = openPlan();
    const numbers = () => heard.inForce.map(({ number }) => number);
    plan.change(trim(-3));
    plan.enforce();
    store.setState(({ onAir }) => ({ onAir: { ...onAir, phonesDim: true, listenTo: { source: 'voice:runa' } } }));
    plan.enforce();
    store.setState(({ onAir }) => ({ onAir: { ...onAir, cough: { 'voice:maren': { callers: true, program: true } } } }));
    plan.enforce();
    plan.change(trim(-6));
    expect(numbers()).toEqual([1, 1, 1, 2, 3]);
    expect(plan.inForce()).toMatchObject({ number: 3, plan: store.getState().plan });
  });

  it('changes nothing when there is no place left, and says why', () => {
    const { plan, store, heard } = openPlan();
    const before = store.getState().plan;
    const [host, caller] = before.seats;
    let come = 0;
    // Everybody who comes leaves again, while a track still records them all.
    const next = () => ({ ...before, seats: [host, { ...caller, id: `guest-${come++}` }] });
    while (plan.set(next()) && come < 100) for (const id of ['voice', 'return']) heard.pinned.add(`${id}:guest-${come - 1}`);
    expect(come).toBeGreaterThan(10);
    expect(heard.said()).toEqual([expect.stringContaining('whose tracks are still recorded')]);
    expect(store.getState().plan.seats.at(-1)?.id).toBe(`guest-${come - 2}`);
    heard.pinned.clear();
    expect(plan.set(next())).toBe(true);
  });

  it('is judged together with the hands', () => {
    const { plan, store } = openPlan();
    plan.change((now) => ({ ...now, couplings: [{ id: 'a', kind: 'loudspeakers', from: 'ears:priya', to: 'voice:priya', gainDb: -10, delayMs: 200, measured: false }] }));
    expect(store.getState().audit.verdict).not.toBe('safe');
    store.setState(({ onAir }) => ({ onAir: { ...onAir, held: ['voice:priya'] } }));
    plan.enforce();
    expect(store.getState().audit.verdict).toBe('safe');
  });
});
