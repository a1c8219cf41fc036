import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { hearingPlanSchema } from '../hearing/plan-schema';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { ERASED_NAME, eraseInJson, eraseInText } from './erasure';

describe('erasing somebody', () => {
  it('leaves every plan a plan in which everybody else hears what they heard', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.nat(), (plan, which) => {
        const callers = plan.seats.filter(({ role }) => role !== 'host');
        fc.pre(callers.length > 0);
        const { id } = callers[which % callers.length];
        // A name that is a word of the plan itself would be taken out of that too, and is no test of its form.
        const named = { ...plan, seats: plan.seats.map((seat) => (seat.id === id ? { ...seat, name: 'Ilvana Quist' } : seat)) };
        const erased = eraseInJson(JSON.parse(JSON.stringify(named)), { seats: new Map([[id, 'gone-1']]), names: ['Ilvana Quist'] });
        expect(JSON.stringify(erased)).not.toContain('Ilvana');
        const after = hearingPlanSchema.parse(erased);
        expect(after.seats.map((seat) => seat.id)).toEqual(plan.seats.map((seat) => (seat.id === id ? 'gone-1' : seat.id)));
        const [then, now] = [compilePlan(named), compilePlan(after)];
        const renamed = (text: string) => text.replace(new RegExp(`:${id}$`), ':gone-1');
        expect(now.sourceIds).toEqual(then.sourceIds.map(renamed));
        expect(now.listenerIds).toEqual(then.listenerIds.map(renamed));
        expect([now.first, now.source, now.gainLeft, now.gainRight, now.raw]).toEqual([then.first, then.source, then.gainLeft, then.gainRight, then.raw]);
      }),
      { numRuns: 300 },
    );
  });

  it('takes names out as words and ids out where they are ids, and nothing that looks like them', () => {
    const who = { seats: new Map([['host', 'gone-1'], ['al', 'gone-2']]), names: ['Al', 'Al Østby', 'Host'] };
    expect(eraseInText('Al Østby told AL’s story; Alma and Hal listened. voice:al, voice:al-2, return:al>voice:alma', who)).toBe(
      `${ERASED_NAME} told ${ERASED_NAME}’s story; Alma and Hal listened. voice:gone-2, voice:al-2, return:gone-2>voice:alma`,
    );
    // A role, a rule and a player may be called as a seat is.
    expect(eraseInJson({ seats: [{ id: 'host', role: 'host', name: 'H', people: ['H', 'K'] }], players: [{ id: 'al', name: 'al' }], listeners: { 'return:al': { rule: 'host' } }, waiting: ['al'], groups: [{ id: 'al', seats: ['al'] }] }, who)).toEqual({
      seats: [{ id: 'gone-1', role: 'host', name: ERASED_NAME, reflexive: 'themselves' }],
      players: [{ id: 'al', name: ERASED_NAME }],
      listeners: { 'return:gone-2': { rule: 'host' } },
      waiting: ['gone-2'],
      groups: [{ id: 'al', seats: ['gone-2'] }],
    });
  });
});
