import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { setCrosspoint } from '../hearing/edit';
import { changedSince } from './changed-since';
import { auditPlan } from '../hearing/audit/index';
import { declareCoupling } from '../hearing/coupling';
import { NOTHING_ON_AIR } from '../hearing/on-air';
import { observeAlso, withObserved } from '../hearing/observation';
import { createPlan, type Seat } from '../hearing/plan';
import { NO_WIRING } from '../hearing/wiring';
import type { LineCheck } from './line-check';
import { checkInWords, observationsOf, stillHolds } from './observe-check';

const seat = (id: string, role: Seat['role'], line: Seat['line'] = 'link'): Seat => ({ id, name: id[0].toUpperCase() + id.slice(1), role, line, reflexive: 'himself' });
const plan = createPlan([seat('maren', 'host'), seat('tomasz', 'caller'), seat('runa', 'caller'), seat('anna', 'caller', 'pair')], [{ id: 'bed', name: 'Bed' }]);
const AT = '2031-05-04T10:00:00.000Z';

function found(change: Partial<LineCheck> = {}): LineCheck {
  const place = (source: 'voice:maren' | 'voice:runa', listener: 'return:tomasz' | 'return:runa', plannedDb: number | null, engineDb = plannedDb, farDb: number | null | undefined = engineDb) => ({ source, listener, plannedDb, engineDb, farDb });
  return {
    version: 1,
    seed: 1,
    at: AT,
    seconds: 6,
    broke: [],
    planVersion: 3,
    passes: 1,
    names: {},
    crosspoints: [place('voice:maren', 'return:tomasz', 0), place('voice:runa', 'return:tomasz', 0), place('voice:maren', 'return:runa', -3), place('voice:runa', 'return:runa', null)],
    waysBack: [],
    otherMixes: [],
    inputs: [],
    farEnds: [
      { listener: 'return:tomasz', lineDb: 0, floorDb: -40, answered: true, leak: null },
      { listener: 'return:runa', lineDb: 0, floorDb: -40, answered: true, leak: null },
    ],
    duringTake: null,
    ...change,
  };
}

const findings = (check: LineCheck) => auditPlan(plan, NOTHING_ON_AIR, NO_WIRING, observationsOf(plan, check)).findings.map(({ sentence }) => sentence);
const changed = (place: number, change: Partial<LineCheck['crosspoints'][number]>): LineCheck => found({ crosspoints: found().crosspoints.map((one, k) => (k === place ? { ...one, ...change } : one)) });

describe('what a line check tells the audit', () => {
  it('is nothing where all is as planned, within a decibel and a half', () => {
    expect(findings(found())).toEqual(findings(changed(2, { engineDb: -4, farDb: -1.6 })));
    expect(checkInWords(changed(2, { farDb: -1.6 }))).toBe('All 4 places as planned, within 1.4 dB; nothing comes back.');
  });

  it('names what is missing, additional or at another level, and where', () => {
    expect(findings(changed(0, { engineDb: null, farDb: null }))[0]).toBe('Maren is missing in Tomasz’s return: planned 0 dB, nothing measured.');
    expect(findings(changed(0, { farDb: null }))[0]).toBe('Tomasz does not get Maren: planned 0 dB, nothing arrives at Tomasz’s end.');
    expect(findings(changed(3, { engineDb: -2 }))[0]).toBe('Runa is in Runa’s return at −2 dB and should not be.');
    expect(findings(changed(2, { engineDb: -9 }))[0]).toContain('planned are −3 dB');
    expect(checkInWords(changed(2, { engineDb: -9, farDb: -9 }))).toContain('3 of 4 places');
  });

  it('says once that a line carries nothing, and not of every source', () => {
    const dead = found({ crosspoints: found().crosspoints.map((one) => ({ ...one, farDb: null })), farEnds: found().farEnds.map((one) => ({ ...one, lineDb: null })) });
    const said = findings(dead);
    expect(said.filter((sentence) => sentence.startsWith('Nothing arrives at'))).toHaveLength(2);
    expect(said.filter((sentence) => sentence.includes('does not get'))).toEqual([]);
    expect(findings(found({ inputs: [{ source: 'voice:runa', floorDb: null, digitalSilence: true }] }))[0]).toContain('Nothing comes from Runa, not even the noise of a room');
  });

  it('makes each way back the mistake it is: loudspeakers, a program that sends back, another’s mix, a share', () => {
    const kinds = observationsOf(plan, found({
      waysBack: [
        { from: 'return:tomasz', to: 'voice:tomasz', gainDb: -19.2, delayMs: 231.4, pass: 1 },
        { from: 'return:anna', to: 'voice:anna', gainDb: -3, delayMs: 180, pass: 1 },
        { from: 'phones:maren', to: 'voice:maren', gainDb: -2, delayMs: 20, pass: 1 },
        { from: 'return:runa', to: 'voice:tomasz', gainDb: -30, delayMs: 90, pass: 2 },
        { from: 'program', to: 'share:computer', gainDb: -1, delayMs: 40, pass: 1 },
      ],
      otherMixes: [{ from: 'return:tomasz', at: 'return:runa', gainDb: 0 }],
    })).map((one) => one.of === 'coupling' && [one.coupling.kind, one.coupling.from, one.coupling.to, one.coupling.gainDb, one.coupling.delayMs]);
    expect(kinds).toEqual([
      ['loudspeakers', 'ears:tomasz', 'voice:tomasz', -19.2, 231],
      ['far-system', 'return:anna', 'voice:anna', -3, 180],
      ['loudspeakers', 'ears:maren', 'voice:maren', -2, 20],
      ['output-into-input', 'return:runa', 'voice:tomasz', -30, 90],
      ['share-contains', 'program', 'share:computer', -1, 40],
      ['other-return', 'return:tomasz', 'ears:runa', 0, 0],
    ]);
  });

  it('counts in the place of a note on the same way, as that note would if it were so, and leaves the plan alone', () => {
    const noted = { ...plan, couplings: [declareCoupling('loudspeakers', 'ears:tomasz', 'voice:tomasz')] };
    const before = structuredClone(noted);
    const observed = observationsOf(plan, found({ waysBack: [{ from: 'return:tomasz', to: 'voice:tomasz', gainDb: -25, delayMs: 200, pass: 1 }] }));
    const audit = auditPlan(noted, NOTHING_ON_AIR, NO_WIRING, observed);
    expect(audit).toEqual(auditPlan({ ...noted, couplings: withObserved(noted.couplings, observed) }));
    expect([audit.evidence, noted]).toEqual([{ noted: 0, measured: 1 }, before]);
    const again = observationsOf(plan, found({ waysBack: [{ from: 'return:tomasz', to: 'voice:tomasz', gainDb: -28, delayMs: 200, pass: 1 }] }));
    expect(observeAlso(observed, again)).toEqual(again);
  });

  it('says how many places are planned otherwise since, and who came', () => {
    const check = found({ crosspoints: [{ source: 'voice:maren', listener: 'return:tomasz', plannedDb: 0, engineDb: 0 }, { source: 'voice:runa', listener: 'return:tomasz', plannedDb: 0, engineDb: 0 }] });
    expect(changedSince(check, compilePlan(plan), ['voice:maren', 'voice:runa', 'return:tomasz'])).toEqual({ places: 0, newcomers: [] });
    const later = setCrosspoint(setCrosspoint(plan, 'voice:maren', 'return:tomasz', { open: true, gainDb: -4 }), 'voice:runa', 'return:tomasz', { open: false, gainDb: 0 });
    expect(changedSince(check, compilePlan(later), ['voice:maren', 'voice:anna'])).toEqual({ places: 2, newcomers: ['voice:anna'] });
  });

  it('holds for an afternoon, and no longer', () => {
    expect([1, 3.9, 4.1].map((hours) => stillHolds(found(), Date.parse(AT) + hours * 3600_000))).toEqual([true, true, false]);
  });
});
