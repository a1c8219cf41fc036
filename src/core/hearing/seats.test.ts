import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { compiledGain, compilePlan } from './compile';
import { PROGRAM, returnOf, voiceOf } from './ids';
import { createPlan, listenersOf, type Seat } from './plan';
import { hearingPlanSchema } from './plan-schema';
import { listenerOfLine, seatIdFor, sourceOfLine, withSeats } from './seats';

const runa: Seat = { id: 'runa', name: 'Runa', role: 'caller', line: 'link', reflexive: 'herself' };

describe('a plan whose seats change', () => {
  it('stays a valid plan, whatever it was and whoever goes', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.array(fc.boolean(), { minLength: 24, maxLength: 24 }), (plan, stay) => {
        const seats = plan.seats.filter(({ role }, k) => role === 'host' || stay[k]);
        const next = withSeats(plan, [...seats, { ...runa, id: 'newcomer' }]);
        const read = hearingPlanSchema.safeParse(next);
        expect(read.success, JSON.stringify(read.error?.issues)).toBe(true);
        expect(next.waiting).toContain('newcomer');
        // Those who stay are heard as before by those who stay.
        const [before, after] = [compilePlan(plan), compilePlan(next)];
        for (const a of seats) {
          for (const listener of listenersOf({ ...plan, seats })) {
            if (a.role !== 'producer') expect(compiledGain(after, voiceOf(a.id), listener.id)).toBe(compiledGain(before, voiceOf(a.id), listener.id));
          }
        }
      }),
      { numRuns: 150 },
    );
  });

  it('lets a newcomer by link hear nothing and be heard by nobody until they are brought up', () => {
    const maren: Seat = { id: 'maren', name: 'Maren', role: 'host', line: 'pair', reflexive: 'herself' };
    const plan = withSeats(createPlan([maren]), [maren, runa]);
    const gain = (now: typeof plan, source: 'voice:maren' | 'voice:runa', listener: Parameters<typeof compiledGain>[2]) => compiledGain(compilePlan(now), source, listener);
    expect([gain(plan, 'voice:maren', returnOf('runa')), gain(plan, 'voice:runa', PROGRAM)]).toEqual([0, 0]);
    const up = { ...plan, waiting: [] };
    expect([gain(up, 'voice:maren', returnOf('runa')), gain(up, 'voice:runa', PROGRAM), gain(up, 'voice:runa', returnOf('runa'))]).toEqual([1, 1, 0]);
    // Once brought up they stay so, whoever else comes.
    expect(withSeats(up, [maren, runa, { ...runa, id: 'ilyas' }]).waiting).toEqual(['ilyas']);
  });

  it('gives a producer’s line the talkback and the program', () => {
    expect([sourceOfLine({ id: 'jude', role: 'producer' }), listenerOfLine({ id: 'jude', role: 'producer' })]).toEqual(['talkback:jude', 'program']);
    expect([sourceOfLine(runa), listenerOfLine(runa)]).toEqual(['voice:runa', 'return:runa']);
  });

  it.each([
    ['Runa', [], 'runa'],
    ['Runa', ['runa', 'runa-2'], 'runa-3'],
    ['Zoë Ångström', [], 'zoe-angstrom'],
    ['李', [], 'guest'],
  ] as const)('calls %s, beside %j, %s', (name, taken, id) => expect(seatIdFor(name, [...taken])).toBe(id));
});
