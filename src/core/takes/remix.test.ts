import { describe, expect, it } from 'vitest';
import { setSource } from '../hearing/edit';
import { createPlan, type Seat } from '../hearing/plan';
import { NO_HANDS, type PlanInForce } from './plan-log';
import { createRemix } from './remix';
import { neverInCall } from './presence';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'link', reflexive: 'themselves' });
const plan = createPlan([seat('maren', 'host'), seat('odalys', 'caller')], [], [], [{ id: 'computer', name: 'Computer' }]);
const TRACKS = [{ recorded: 'voice:maren', channels: 1 }, { recorded: 'share:computer', channels: 2 }, { recorded: 'voice:late', channels: 1 }] as const;
const LEVELS = [0.1, 0.2, 0.4];
const SECOND = 48_000;

/** The program of one second of constant tracks, by what was in force: its level at some samples. */
function programAt(begin: PlanInForce, changes: PlanInForce[], ...samples: number[]): number[] {
  const remix = createRemix({ tracks: TRACKS, begin, changes });
  const tracks = LEVELS.map((level) => [new Float32Array(SECOND).fill(level), new Float32Array(SECOND).fill(level)]);
  const [left] = remix.process(tracks, SECOND);
  return samples.map((at) => Number(left[at].toFixed(4)));
}

const from = (atSample: number, more: Partial<PlanInForce> = {}): PlanInForce => ({ atSample, plan, hands: NO_HANDS, ...more });

describe('a mix made afterwards', () => {
  it('leaves out what was held out of every mix while it was, and who coughed', () => {
    const held = { ...NO_HANDS, held: ['share:computer' as const] };
    const coughing = { ...NO_HANDS, cough: { 'voice:maren': { callers: true, program: true } } };
    expect(programAt(from(0, { hands: held }), [from(12_000), from(24_000, { hands: coughing })], 6000, 18_000, 30_000)).toEqual([0.1, 0.3, 0.2]);
  });

  it('moves as slowly as it did, and at the sample at which it did', () => {
    const off = setSource(plan, 'share:computer', { on: false });
    const [before, middle, after] = programAt(from(0), [from(10_000, { plan: off, rampSeconds: 0.5 })], 9999, 22_000, 40_000);
    expect([before, after]).toEqual([0.3, 0.1]);
    expect(middle).toBeCloseTo(0.2, 2);
  });

  it('has whoever came late from when the plan knew them', () => {
    const withLate = { ...plan, seats: [...plan.seats, seat('late', 'caller')] };
    expect(programAt(from(0), [from(20_000, { plan: withLate })], 10_000, 40_000)).toEqual([0.3, 0.7]);
  });
});

describe('who was in a call', () => {
  const gap = (track: string, atSample: number, lengthSamples: number, cause: 'not-in-call' | 'line-lost' = 'not-in-call') => ({ track, atSample, lengthSamples, cause });

  it('is everybody whose track is not one gap from beginning to end', () => {
    const gaps = [gap('never', 0, 100), gap('late', 0, 40), gap('lost', 0, 100, 'line-lost'), gap('in-two', 40, 60), gap('in-two', 0, 45), gap('gone', 0, 40), gap('gone', 41, 59)];
    expect([...neverInCall(gaps, 100)].sort()).toEqual(['in-two', 'never']);
    expect(neverInCall([], 100).size).toBe(0);
  });
});
