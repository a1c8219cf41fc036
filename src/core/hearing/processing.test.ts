import { describe, expect, it } from 'vitest';
import { compilePlan } from './compile';
import { setProcessing } from './edit';
import { soundsOf, voiceOf } from './ids';
import { differences, mergePlans } from './merge';
import { createPlan, type HearingPlan, type Seat } from './plan';
import { planDifference } from './plan-difference';
import { hearingPlanSchema } from './plan-schema';
import { withSeats } from './seats';
import { startFrom } from './start-from';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: `${id[0].toUpperCase()}${id.slice(1)}`, role, line: 'practice', reflexive: 'themselves' });
const SEATS = [seat('maren', 'host'), seat('odalys', 'caller'), seat('priya', 'caller')];
const plan = createPlan(SEATS, [{ id: 'bed', name: 'Bed' }]);
const odalys = voiceOf('odalys');
const cut = setProcessing(plan, odalys, { lowCut: true });

describe('what is done to voices', () => {
  it('is compiled for voices that are processed, and for no others', () => {
    expect(compilePlan(plan).processing).toEqual([]);
    const { processing, sourceIds } = compilePlan(cut);
    expect(processing).toEqual([{ source: sourceIds.indexOf(odalys), lowCut: true, evenOut: false }]);
    expect(compilePlan(setProcessing(cut, odalys, { lowCut: false })).processing).toEqual([]);
  });

  it('crosses a boundary whole, is absent in plans that were kept before there was any, and is for voices alone', () => {
    expect(hearingPlanSchema.parse(JSON.parse(JSON.stringify(cut)))).toEqual(cut);
    const old: Partial<HearingPlan> = { ...plan };
    delete old.processing;
    expect(hearingPlanSchema.parse(old).processing).toEqual({});
    const wrong = hearingPlanSchema.safeParse({ ...plan, processing: { [soundsOf('bed')]: { lowCut: true, evenOut: false } } });
    expect(wrong.error?.issues[0]).toMatchObject({ path: ['processing', 'sounds:bed'], message: 'is no voice of this plan' });
  });

  it('leaves with whoever leaves, and comes along where a plan is begun from another', () => {
    expect(withSeats(cut, [SEATS[0], SEATS[2]]).processing).toEqual({});
    expect(withSeats(cut, SEATS).processing).toEqual(cut.processing);
    expect(startFrom(plan, cut).processing).toEqual(cut.processing);
    expect(startFrom(createPlan([SEATS[0]]), cut).processing).toEqual({});
  });

  it('is put together from two windows, and said in words', () => {
    const other = setProcessing(plan, voiceOf('priya'), { evenOut: true });
    const merged = mergePlans(plan, cut, other);
    expect(merged.processing).toEqual({ ...cut.processing, ...other.processing });
    expect(differences(cut, merged)).toEqual(['Priya: evened out']);
    expect(differences(cut, plan)).toEqual(['Odalys: as it comes']);
    expect(planDifference(plan, setProcessing(cut, odalys, { evenOut: true }))).toBe('Odalys: rumble cut, evened out');
  });
});
