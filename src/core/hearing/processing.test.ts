import { describe, expect, it } from 'vitest';
import { compilePlan } from './compile';
import { CLOSED_STRIP, withInsert } from '../strip/settings';
import { setSource, setStrip } from './edit';
import { talkbackOf, voiceOf } from './ids';
import { differences, mergePlans } from './merge';
import { createPlan, type HearingPlan, type Seat } from './plan';
import { planDifference } from './plan-difference';
import { hearingPlanSchema } from './plan-schema';
import { withKeptStrips, withSeats } from './seats';
import { startFrom } from './start-from';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: `${id[0].toUpperCase()}${id.slice(1)}`, role, line: 'practice', reflexive: 'themselves' });
const SEATS = [seat('maren', 'host'), seat('odalys', 'caller'), seat('priya', 'caller')];
const plan = createPlan(SEATS, [{ id: 'bed', name: 'Bed' }]);
const odalys = voiceOf('odalys');
const cut = setStrip(plan, odalys, (strip) => withInsert(strip, 'lowCut', { on: true }));

describe('what is done to voices', () => {
  it('is compiled for voices that are processed, and for no others', () => {
    expect(compilePlan(plan).processing).toEqual([]);
    const { processing, sourceIds } = compilePlan(cut);
    expect(processing).toEqual([{ source: sourceIds.indexOf(odalys), strip: withInsert(CLOSED_STRIP, 'lowCut', { on: true }) }]);
    expect(compilePlan(setStrip(cut, odalys, (strip) => withInsert(strip, 'lowCut', { on: false }))).processing).toEqual([]);
  });

  it('crosses a boundary whole, is absent in plans that were kept before there was any, and is for nobody’s talkback', () => {
    expect(hearingPlanSchema.parse(JSON.parse(JSON.stringify(cut)))).toEqual(cut);
    const old: Partial<HearingPlan> = { ...plan };
    delete old.processing;
    expect(hearingPlanSchema.parse(old).processing).toEqual({});
    const wrong = hearingPlanSchema.safeParse({ ...plan, processing: { [talkbackOf('maren')]: CLOSED_STRIP } });
    expect(wrong.error?.issues[0]).toMatchObject({ path: ['processing', 'talkback:maren'], message: 'is no voice or sound of this plan' });
  });

  it('leaves with whoever leaves, and comes along where a plan is begun from another', () => {
    expect(withSeats(cut, [SEATS[0], SEATS[2]]).processing).toEqual({});
    expect(withSeats(cut, SEATS).processing).toEqual(cut.processing);
    expect(startFrom(plan, cut).processing).toEqual(cut.processing);
    expect(startFrom(createPlan([SEATS[0]]), cut).processing).toEqual({});
    // Somebody who comes again brings what was done to their voice; somebody who is there keeps what they have.
    const strip = withInsert(CLOSED_STRIP, 'deEsser', { on: true });
    const kept = SEATS.map(({ id }) => ({ id, strip: id === 'maren' ? null : strip }));
    const again = withKeptStrips(withSeats(cut, SEATS), { seats: SEATS.slice(0, 2) }, kept);
    expect(again.processing).toEqual({ ...cut.processing, [voiceOf('priya')]: strip });
  });

  it('is put together from two windows, and said in words', () => {
    const other = setStrip(plan, voiceOf('priya'), (strip) => withInsert(strip, 'compressor', { on: true }));
    const merged = mergePlans(plan, cut, other);
    expect(merged.processing).toEqual({ ...cut.processing, ...other.processing });
    expect(differences(cut, merged)).toEqual(['Priya: evened out 3 : 1']);
    expect(differences(cut, plan)).toEqual(['Odalys: as it comes']);
    expect(differences(plan, setSource(plan, odalys, { trimDb: -0.5 }))).toEqual(['Odalys: gain −0.5 dB']);
    expect(planDifference(plan, setStrip(cut, odalys, (strip) => withInsert(strip, 'compressor', { on: true })))).toBe('Odalys: cut below 80 Hz, evened out 3 : 1');
  });
});
