import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { compiledGain, compilePlan } from './compile';
import { OwnVoiceError, setCrosspoint, setListener, setSource } from './edit';
import { CUE, returnOf, voiceOf } from './ids';
import { NOTHING_ON_AIR } from './on-air';
import { crosspointOf, operandFor } from './operands';
import { createPlan, listenerSettings, listenersOf, sourceSettings, sourcesOf, type Seat } from './plan';
import { hearingPlanSchema } from './plan-schema';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'practice', reflexive: 'herself' });
const trio = createPlan(
  [seat('maren', 'host'), seat('odalys', 'caller'), seat('tomasz', 'caller'), seat('jude', 'producer')],
  [{ id: 'effects', name: 'Sounds' }],
);

describe('the default rule', () => {
  const compiled = compilePlan(trio);
  const heardBy = (listener: (typeof compiled.listenerIds)[number]) =>
    compiled.sourceIds.filter((source) => source !== CUE && compiledGain(compiled, source, listener) > 0);

  it('gives every caller everyone else and the sounds', () => {
    expect(heardBy('return:odalys')).toEqual(['voice:maren', 'voice:tomasz', 'sounds:effects']);
    expect(heardBy('return:tomasz')).toEqual(['voice:maren', 'voice:odalys', 'sounds:effects']);
  });
  it('gives the phones everyone but the host, and the program everybody', () => {
    expect(heardBy('phones:maren')).toEqual(['voice:odalys', 'voice:tomasz', 'sounds:effects']);
    expect(heardBy('program')).toEqual(['voice:maren', 'voice:odalys', 'voice:tomasz', 'sounds:effects']);
  });
});

describe('a caller’s own voice in their own return', () => {
  it('has no operand, whatever the plan and whatever the phones borrow', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.nat(), (plan, pick) => {
        const listeners = listenersOf(plan);
        const compiled = compilePlan(plan, { onAir: { ...NOTHING_ON_AIR, listenTo: { listener: listeners[pick % listeners.length].id } } });
        // Somebody on two lines would hear themselves by the other one just as late.
        for (const own of plan.seats) {
          for (const other of plan.seats) {
            const isOne = own.id === other.id || (own.person ?? own.id) === (other.person ?? other.id);
            if (isOne && own.role !== 'producer' && other.role === 'caller') expect(compiledGain(compiled, voiceOf(own.id), returnOf(other.id))).toBe(0);
          }
        }
      }),
    );
  });
  it('is refused by an edit and by the door', () => {
    const own = { open: true, gainDb: 0 };
    expect(() => setCrosspoint(trio, 'voice:odalys', 'return:odalys', own)).toThrow(OwnVoiceError);
    const forged = { ...trio, exceptions: { 'return:odalys': { 'voice:odalys': own } } };
    const result = hearingPlanSchema.safeParse(forged);
    expect(result.error?.issues[0]).toMatchObject({ message: 'is a caller’s own voice in their own return' });
  });
});

describe('compile', () => {
  it('equals the plan read one crosspoint at a time', () => {
    fc.assert(
      fc.property(arbitraryPlan, (plan) => {
        const compiled = compilePlan(plan);
        for (const listener of listenersOf(plan)) {
          for (const source of sourcesOf(plan)) {
            const operand = operandFor(source, listener);
            const { on: isOn, trimDb, offIn } = sourceSettings(plan, source.id);
            const seat = source.kind === 'voice' ? source.seat.id : '';
            const waits = plan.waiting.includes(seat) || plan.waiting.some((id) => listener.id === returnOf(id));
            const on = isOn && !offIn.includes(listener.kind) && !waits;
            const point = operand && crosspointOf(plan, operand);
            const db = trimDb + (point?.gainDb ?? 0) + listenerSettings(plan, listener.id).levelDb;
            const expected = on && point?.open ? 10 ** (db / 20) : 0;
            expect(compiledGain(compiled, source.id, listener.id)).toBeCloseTo(expected, 5);
          }
        }
      }),
    );
  });
  it('gives the phones exactly another listener’s mix when they borrow it', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.nat(), (plan, pick) => {
        const borrowed = listenersOf(plan)[pick % listenersOf(plan).length].id;
        const level = { levelDb: 0, rule: 'everyone' } as const;
        const even = setListener(setListener(plan, borrowed, { levelDb: 0 }), 'phones:host', level);
        const compiled = compilePlan(even, { onAir: { ...NOTHING_ON_AIR, listenTo: { listener: borrowed } } });
        for (const source of compiled.sourceIds.filter((id) => id !== CUE)) {
          expect(compiledGain(compiled, source, 'phones:host')).toBe(compiledGain(compiled, source, borrowed));
        }
      }),
    );
  });
});

describe('the door', () => {
  it('lets through every plan a host can make, unchanged', () => {
    fc.assert(
      fc.property(arbitraryPlan, (plan) => {
        expect(hearingPlanSchema.parse(JSON.parse(JSON.stringify(plan)))).toEqual(plan);
      }),
    );
  });
  it('names what is wrong: unknown places, two hosts, levels out of range', () => {
    const issue = (plan: unknown) => hearingPlanSchema.safeParse(plan).error?.issues[0];
    expect(issue({ ...trio, sources: { 'voice:nobody': { on: true, trimDb: 0 } } })).toMatchObject({
      path: ['sources', 'voice:nobody'],
      message: 'is not in this plan',
    });
    expect(issue({ ...trio, seats: [...trio.seats, seat('other', 'host')] })?.message).toBe('must hold exactly one host');
    expect(issue({ ...trio, sources: { 'voice:maren': { on: true, trimDb: 40 } } })?.path).toEqual(['sources', 'voice:maren', 'trimDb']);
    expect(() => setSource(trio, 'voice:maren', { trimDb: 40 })).toThrow('trimDb must be from -60 to +12 dB, received 40.');
  });
});
