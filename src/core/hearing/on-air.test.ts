import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createEngine } from '../engine/engine';
import { createRandom } from '../random';
import { createMixSession } from '../session/mix-session';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { applyChange, type PlanChange } from './audit/index';
import { compiledGain, compilePlan, type CompiledPlan } from './compile';
import { setCrosspoint, setListener, setSource } from './edit';
import { returnOf, voiceOf, type ListenerId } from './ids';
import { differences, mergePlans } from './merge';
import { NOTHING_ON_AIR, type OnAir } from './on-air';
import { operandFor } from './operands';
import { createPlan, HEARING_RULES, listenersOf, sourcesOf, type HearingPlan } from './plan';
import { hearingPlanSchema } from './plan-schema';
import { MOST_FEEDS, MOST_LISTENERS, MOST_PLAYERS, MOST_SEATS, MOST_SHARES, MOST_SOURCES, MOST_TRACKS } from '../limits';
import { keepSlots, NoPlaceError, slotsInOrder } from './slots';
import { startFrom } from './start-from';

const trio = createPlan(
  ['maren', 'odalys', 'tomasz', 'jude'].map((id) => ({
    id,
    name: id,
    role: id === 'maren' ? 'host' : id === 'jude' ? 'producer' : 'caller',
    line: 'practice',
    reflexive: 'herself',
  })),
  [{ id: 'bed', name: 'Bed' }],
  [{ id: 'stream', name: 'Stream' }],
);
const onAir = (change: Partial<OnAir>): OnAir => ({ ...NOTHING_ON_AIR, ...change });
const gain = (compiled: CompiledPlan, source: Parameters<typeof compiledGain>[1], listener: ListenerId) => compiledGain(compiled, source, listener);

/** Everything hands can do at once: any talk, any listening, dims. */
const arbitraryTalkAndListening = (plan: HearingPlan) => {
  const listeners = listenersOf(plan);
  return fc.record({
    talk: fc.option(fc.subarray(listeners.map(({ id }) => id), { minLength: 1 }).map((to) => ({ from: 'talkback:host' as const, to }))),
    listenTo: fc.option(
      fc.oneof(
        fc.constantFrom(...listeners).map(({ id }) => ({ listener: id })),
        fc.constantFrom(...sourcesOf(plan)).map(({ id }) => ({ source: id })),
      ),
    ),
    phonesDim: fc.boolean(),
  });
};

describe('talkback and listening', () => {
  it('never alter the program, a feed or a track by a bit, whatever the plan', () => {
    fc.assert(
      fc.property(
        arbitraryPlan.chain((plan) => fc.tuple(fc.constant(plan), arbitraryTalkAndListening(plan))),
        fc.nat(),
        ([plan, hands], seed) => {
          const [plain, handled] = [compilePlan(plan), compilePlan(plan, { onAir: onAir(hands) })];
          const [a, b] = [plain, handled].map((compiled) => {
            const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: 256 });
            engine.setPlan(compiled);
            const random = createRandom(seed);
            for (const { left, right } of engine.inputs) for (let i = 0; i < 256; i++) left[i] = right[i] = random.between(-1, 1);
            engine.process(256);
            return engine;
          });
          listenersOf(plan).forEach((listener, m) => {
            if (listener.kind === 'program' || listener.kind === 'feed') expect(b.outputs[m].left).toEqual(a.outputs[m].left);
          });
          a.taps.forEach((tap, n) => expect(b.taps[n].left).toEqual(tap.left));
          for (const { id, role } of plan.seats) {
            if (role === 'caller') expect(gain(handled, voiceOf(id), returnOf(id))).toBe(0);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('talk over one caller’s return, which dims by the set amount, and over nobody else’s', () => {
    for (const from of ['talkback:maren', 'talkback:jude'] as const) {
      const compiled = compilePlan(trio, { onAir: onAir({ talk: { from, to: ['return:odalys'] }, talkDimDb: 20 }) });
      expect(gain(compiled, from, 'return:odalys')).toBe(1);
      expect(gain(compiled, 'voice:tomasz', 'return:odalys')).toBeCloseTo(0.1);
      for (const listener of ['return:tomasz', 'program', 'phones:maren', 'feed:stream'] as const) {
        expect(gain(compiled, from, listener)).toBe(0);
        expect(gain(compiled, 'voice:odalys', listener)).toBe(1);
      }
    }
  });

  it('listen before the fader: an off, trimmed, closed source is heard as it is, alone', () => {
    const plan = setCrosspoint(setSource(trio, 'voice:tomasz', { on: false, trimDb: -30 }), 'voice:tomasz', 'phones:maren', { open: false, gainDb: 0 });
    const compiled = compilePlan(plan, { onAir: onAir({ listenTo: { source: 'voice:tomasz' } }) });
    expect(gain(compiled, 'voice:tomasz', 'phones:maren')).toBe(1);
    expect(gain(compiled, 'voice:odalys', 'phones:maren')).toBe(0);
  });
});

describe('a talking microphone', () => {
  it('moves from the voice to the talkback and back, sample by sample, and nothing is lost or doubled', () => {
    const compiled = compilePlan(trio);
    const session = createMixSession({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: 128 });
    session.setPlan(compiled);
    const [voice, talkback] = ['voice:maren', 'talkback:maren'].map((id) => compiled.sourceIds.findIndex((one) => one === id));
    const blocks: [number, number][] = [];
    for (let block = 0; block < 24; block++) {
      if (block === 4) session.setTalking('maren');
      if (block === 14) session.setTalking(null);
      session.fill(128);
      session.engine.inputs[voice].left.fill(0.5);
      session.mix(128);
      const [v, t] = [session.engine.taps[voice].left, session.engine.taps[talkback].left];
      for (let i = 0; i < 128; i++) {
        expect(v[i] + t[i]).toBeCloseTo(0.5, 6);
        const before = i === 0 ? blocks.at(-1) : ([v[i - 1], t[i - 1]] as const);
        if (before) expect(Math.abs(v[i] - before[0])).toBeLessThan(0.5 / 480 + 1e-6);
      }
      blocks.push([v[127], t[127]]);
    }
    expect(blocks[3]).toEqual([0.5, 0]);
    expect(blocks[12]).toEqual([0, 0.5]);
    expect(blocks[23]).toEqual([0.5, 0]);
  });
});

describe('a cough', () => {
  it('keeps a voice out of the call, the program or both, and nothing else', () => {
    const heard = (callers: boolean, program: boolean) => {
      const compiled = compilePlan(trio, { onAir: onAir({ cough: { 'voice:maren': { callers, program } } }) });
      return (['return:odalys', 'program', 'feed:stream'] as const).map((id) => gain(compiled, 'voice:maren', id) > 0);
    };
    expect(heard(true, true)).toEqual([false, false, false]);
    expect(heard(true, false)).toEqual([false, true, true]);
    expect(heard(false, true)).toEqual([true, false, false]);
  });
});

describe('a waiting caller', () => {
  it('is in no mix and hears nothing, and comes into all the right places at once', () => {
    const waiting = compilePlan({ ...trio, waiting: ['odalys'] });
    for (const id of waiting.listenerIds) expect(gain(waiting, 'voice:odalys', id)).toBe(0);
    for (const id of waiting.sourceIds) expect(gain(waiting, id, 'return:odalys')).toBe(0);
    expect(compilePlan(applyChange({ ...trio, waiting: ['odalys'] }, { type: 'admit', seat: 'odalys' }))).toEqual(compilePlan(trio));
  });
});

describe('places in the engine', () => {
  it('are kept by everybody who stays, whoever comes and goes', () => {
    const before = slotsInOrder(trio);
    const later: HearingPlan = { ...trio, feeds: [{ id: 'room', name: 'Room' }], seats: [...trio.seats, { ...trio.seats[1], id: 'priya' }] };
    const after = keepSlots(before, later, { sources: 32, listeners: 32 });
    for (const [k, id] of before.sources.entries()) expect(after.sources[k]).toBe(id);
    const compiled = compilePlan(later, { slots: after });
    expect(gain(compiled, 'voice:priya', 'return:odalys')).toBe(1);
    expect(gain(compiled, 'voice:priya', 'return:priya')).toBe(0);
    expect(gain(compiled, 'voice:maren', 'feed:stream')).toBe(0);
    expect(() => keepSlots(before, later, { sources: 3, listeners: 3 })).toThrow('There is no place left on this desk: it has 3.');
  });

  it('are kept by who has left as long as a track records from them', () => {
    const before = slotsInOrder(trio);
    const full = { sources: before.sources.length, listeners: before.listeners.length };
    const [left] = trio.seats.filter(({ role }) => role === 'caller');
    const without = { ...trio, seats: trio.seats.filter(({ id }) => id !== left.id) };
    const newcomer: HearingPlan = { ...without, seats: [...without.seats, { ...left, id: 'newcomer' }] };
    const pinned = new Set([`voice:${left.id}`, `return:${left.id}`]);
    expect(() => keepSlots(before, newcomer, full, pinned)).toThrow('belong to people who have left and whose tracks are still recorded');
    expect(() => keepSlots(before, newcomer, full, new Set([`return:${left.id}`]))).toThrow(NoPlaceError);
    const places = keepSlots(before, newcomer, full);
    expect(places.sources.indexOf('voice:newcomer')).toBe(before.sources.indexOf(`voice:${left.id}`));
    const roomy = keepSlots(before, newcomer, { sources: full.sources + 1, listeners: full.listeners + 1 }, pinned);
    expect(roomy.sources.slice(0, full.sources)).toEqual(before.sources);
  });

  it('are enough for the largest plan, with some to spare for those who leave during a take', () => {
    const seats = Array.from({ length: MOST_SEATS }, (_, k) => ({ ...trio.seats[k === 0 ? 0 : 1], id: `seat-${k}` }));
    const many = (count: number) => Array.from({ length: count }, (_, k) => ({ id: `one-${k}`, name: `One ${k}` }));
    const largest = { ...createPlan(seats, many(MOST_PLAYERS), many(MOST_FEEDS), many(MOST_SHARES)) };
    const { sources, listeners } = slotsInOrder(hearingPlanSchema.parse(largest));
    expect(sources.length).toBeLessThan(MOST_SOURCES - 10);
    expect(listeners.length).toBeLessThan(MOST_LISTENERS - 10);
    expect(MOST_TRACKS).toBeGreaterThanOrEqual(MOST_SOURCES + MOST_LISTENERS);
  });
});

/** Any edit a host can make to a plan. */
const arbitraryEdit = (plan: HearingPlan): fc.Arbitrary<(plan: HearingPlan) => HearingPlan> => {
  const sources = sourcesOf(plan);
  const listeners = listenersOf(plan);
  const places = listeners.flatMap((listener) => sources.filter((source) => operandFor(source, listener)).map((source) => [source.id, listener.id] as const));
  const db = fc.integer({ min: -60, max: 12 });
  const changes = fc.oneof(
    fc.constantFrom(...listeners).map(({ id }): PlanChange => ({ type: 'close-listener', listener: id })),
    fc.constantFrom(...sources).map(({ id }): PlanChange => ({ type: 'back-to-rule', source: id, listener: null })),
    fc.constantFrom(...sources).map(({ id }): PlanChange => ({ type: 'close-source-everywhere', source: id })),
  );
  return fc.oneof(
    fc.tuple(fc.constantFrom(...places), db, fc.boolean()).map(([[source, listener], gainDb, open]) => (p: HearingPlan) => setCrosspoint(p, source, listener, { open, gainDb })),
    fc.tuple(fc.constantFrom(...sources), db).map(([{ id }, trimDb]) => (p: HearingPlan) => setSource(p, id, { trimDb })),
    fc.tuple(fc.constantFrom(...listeners), fc.constantFrom(...HEARING_RULES)).map(([{ id }, rule]) => (p: HearingPlan) => setListener(p, id, { rule })),
    changes.map((change) => (p: HearingPlan) => applyChange(p, change)),
  );
};

describe('edits', () => {
  it('leave the plan they began from untouched, so that undo is exact, and never make an own voice heard', () => {
    fc.assert(
      fc.property(arbitraryPlan.chain((plan) => fc.tuple(fc.constant(plan), fc.array(arbitraryEdit(plan), { minLength: 1, maxLength: 10 }))), ([plan, edits]) => {
        const past: { plan: HearingPlan; text: string }[] = [];
        let current = plan;
        for (const edit of edits) {
          past.push({ plan: current, text: JSON.stringify(current) });
          current = edit(current);
          expect(hearingPlanSchema.safeParse(JSON.parse(JSON.stringify(current))).success).toBe(true);
        }
        for (const { plan: before, text } of past) expect(JSON.stringify(before)).toBe(text);
      }),
      { numRuns: 80 },
    );
  });

  it('of two windows are put together: whatever only one changed is taken from that one', () => {
    fc.assert(
      fc.property(arbitraryPlan.chain((plan) => fc.tuple(fc.constant(plan), arbitraryEdit(plan), arbitraryEdit(plan))), ([base, edit, other]) => {
        const [mine, theirs] = [edit(base), other(base)];
        expect(mergePlans(base, mine, base)).toEqual(mine);
        expect(mergePlans(base, base, theirs)).toEqual(theirs);
        expect(hearingPlanSchema.safeParse(mergePlans(base, mine, theirs)).success).toBe(true);
      }),
      { numRuns: 80 },
    );
    const mine = setSource(trio, 'voice:maren', { trimDb: -3 });
    const theirs = setCrosspoint(trio, 'sounds:bed', 'return:odalys', { open: true, gainDb: -9 });
    const merged = mergePlans(trio, mine, theirs);
    expect(differences(mine, merged)).toEqual(['Bed in odalys’s return: −9 dB']);
    expect(differences(theirs, merged)).toEqual(['maren: gain −3 dB']);
  });
});

describe('a kept plan', () => {
  it('begins another episode with other people: what fits is taken over, the rest is left', () => {
    const kept = setListener(setCrosspoint(trio, 'voice:odalys', 'program', { open: true, gainDb: -4 }), 'return:tomasz', { rule: 'host' });
    const other = { ...trio, seats: trio.seats.filter(({ id }) => id !== 'tomasz'), feeds: [] };
    const begun = startFrom(other, kept);
    expect(begun.exceptions).toEqual({ program: { 'voice:odalys': { open: true, gainDb: -4 } } });
    expect(begun.listeners).toEqual({});
    expect(begun.seats).toEqual(other.seats);
    expect(begun.feeds).toEqual(trio.feeds);
  });
});
