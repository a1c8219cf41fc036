import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { auditPlan } from './audit/index';
import { compiledGain, compilePlan } from './compile';
import { declareCoupling } from './coupling';
import type { SourceId } from './ids';
import { NOTHING_ON_AIR, type OnAir } from './on-air';
import { isOwnVoice } from './operands';
import { otherLinesOf, withSamePerson } from './persons';
import { placeNow } from './place-now';
import { createPlan, listenersOf, sourcesOf, type HearingPlan, type Seat } from './plan';
import { hearingPlanSchema } from './plan-schema';
import { crosspointSentence } from './sentences';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id[0].toUpperCase() + id.slice(1), role, line: 'link', reflexive: 'themselves' });
const trio = createPlan([seat('maren', 'host'), seat('odalys', 'caller'), seat('tomasz', 'caller')], [{ id: 'bed', name: 'Bed' }], [], [{ id: 'computer', name: 'Computer' }]);

/** What hands may hold over a plan. */
const handsOver = (plan: HearingPlan): fc.Arbitrary<OnAir> => {
  const ids = sourcesOf(plan).map(({ id }) => id);
  // Talkback is never in the phones, so nobody listens to it first.
  const heardFirst = fc.constantFrom(...ids.filter((id) => !id.startsWith('talkback:')));
  return fc.record({ held: fc.subarray(ids), coughed: fc.subarray(ids), phonesDim: fc.boolean(), listened: fc.option(heardFirst) }).map(({ held, coughed, phonesDim, listened }) => ({
    ...NOTHING_ON_AIR,
    held,
    phonesDim,
    cough: Object.fromEntries(coughed.map((id: SourceId) => [id, { callers: true, program: true }])),
    listenTo: listened === null ? null : { source: listened },
  }));
};

describe('a place of the grid', () => {
  it('is lit exactly where the engine has the crosspoint open, whatever plan and hands', () => {
    fc.assert(
      fc.property(arbitraryPlan.chain((plan) => fc.tuple(fc.constant(plan), handsOver(plan))), ([plan, onAir]) => {
        const compiled = compilePlan(plan, { onAir });
        const listeners = listenersOf(plan);
        for (const source of sourcesOf(plan)) {
          for (const listener of listeners) {
            const { state } = placeNow(plan, onAir, source, listener, listeners);
            expect(state === 'lit', `${source.id} ${listener.id} is ${state}`).toBe(compiledGain(compiled, source.id, listener.id) > 0);
            expect(crosspointSentence(plan, source, listener, onAir)).toMatch(/\.$/);
          }
        }
      }),
    );
  });

  it('says in words why a lamp that is set does not burn', () => {
    const [source, listener] = [sourcesOf(trio).find(({ id }) => id === 'voice:odalys')!, listenersOf(trio).find(({ id }) => id === 'return:tomasz')!];
    const said = (plan: HearingPlan, onAir: Partial<OnAir> = {}) => crosspointSentence(plan, source, listener, { ...NOTHING_ON_AIR, ...onAir });
    expect(said(trio)).toBe('Odalys is heard at 0 dB in Tomasz’s return, as the rule says.');
    expect(said({ ...trio, waiting: ['tomasz'] })).toBe('Odalys is not heard in Tomasz’s return now: Tomasz is waiting to be let in. The lamp stays set to 0 dB, as the rule says.');
    expect(said(trio, { held: ['voice:odalys'] })).toContain('Odalys is kept out of every mix');
    expect(said(trio, { cough: { 'voice:odalys': { callers: true, program: false } } })).toContain('Odalys is muted by the cough key');
  });
});

describe('a person on several lines', () => {
  it('is declared and undone, and takes what was set by hand at impossible places with it', () => {
    const byHand = { ...trio, exceptions: { 'return:tomasz': { 'voice:odalys': { open: true, gainDb: -3 }, 'sounds:bed': { open: false, gainDb: 0 } } } };
    const one = withSamePerson(byHand, 'odalys', 'tomasz');
    expect(otherLinesOf(one, 'tomasz').map(({ id }) => id)).toEqual(['odalys']);
    expect(one.exceptions).toEqual({ 'return:tomasz': { 'sounds:bed': { open: false, gainDb: 0 } } });
    expect(hearingPlanSchema.safeParse(one).success).toBe(true);
    const [voice, own] = [sourcesOf(one).find(({ id }) => id === 'voice:odalys')!, listenersOf(one).find(({ id }) => id === 'return:tomasz')!];
    expect(isOwnVoice(voice, own)).toBe(true);
    expect(withSamePerson(one, 'odalys', null).seats).toEqual(trio.seats);
    expect(() => withSamePerson(trio, 'odalys', 'nobody')).toThrow('The plan has no seat nobody.');
  });
});

describe('the audit and what rests', () => {
  const loud = { ...trio, couplings: [declareCoupling('loudspeakers', 'ears:tomasz', 'voice:tomasz'), { ...declareCoupling('share-contains', 'phones:maren', 'share:computer'), measured: true }] };

  it('judges what is now, and says what will be and when', () => {
    const waits = { ...loud, waiting: ['tomasz'] };
    const audit = auditPlan(waits, { ...NOTHING_ON_AIR, held: ['share:computer'] });
    expect(audit.verdict).toBe('safe');
    const later = audit.findings.filter((finding) => finding.later !== undefined);
    expect(later.map(({ mistake, later: when, urgent }) => [mistake, when, urgent])).toEqual(
      expect.arrayContaining([
        ['caller-on-loudspeakers', 'Tomasz is let in', false],
        ['share-contains-call', 'Computer is let into the mixes', false],
      ]),
    );
    expect(auditPlan({ ...loud, waiting: [] }, NOTHING_ON_AIR).findings.some((finding) => finding.later !== undefined)).toBe(false);
  });

  it('names each finding once, and is at rest when nothing rests, whatever plan and hands', () => {
    fc.assert(
      fc.property(arbitraryPlan.chain((plan) => fc.tuple(fc.constant(plan), handsOver(plan))), ([plan, onAir]) => {
        const { findings } = auditPlan(plan, onAir);
        expect(new Set(findings.map(({ key }) => key)).size).toBe(findings.length);
        for (const { later, urgent } of findings) if (later !== undefined) expect(urgent).toBe(false);
        const atRest = auditPlan({ ...plan, waiting: [] }, { ...onAir, held: [], cough: {} });
        expect(atRest.findings.filter(({ later }) => later !== undefined)).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });

  it('says what it rests on', () => {
    expect(auditPlan(trio).evidence).toEqual({ noted: 0, measured: 0 });
    expect(auditPlan(loud).evidence).toEqual({ noted: 1, measured: 1 });
  });
});
