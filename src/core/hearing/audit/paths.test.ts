import { describe, expect, it } from 'vitest';
import { declareCoupling } from '../coupling';
import { setCrosspoint } from '../edit';
import { createPlan, type HearingPlan, type Seat } from '../plan';
import { auditPlan, pathInWords } from './index';
import { originOf, soundGraph } from './graph';
import { worstLoops } from './loops';
import { strongestPaths } from './paths';
import { stabilityMarginDb } from './stability';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id.toUpperCase(), role, line: 'practice', reflexive: 'themselves' });
const base = createPlan([seat('a', 'host'), seat('b', 'caller'), seat('c', 'caller')]);
const loud = (id: string, gainDb: number) => ({ ...declareCoupling('loudspeakers', `ears:${id}`, `voice:${id}`), gainDb });

describe('a path', () => {
  const plan: HearingPlan = { ...base, couplings: [loud('c', -18)] };
  const graph = soundGraph(plan);
  const [, voiceB] = graph.sources;

  it('is the strongest one, with its level, its delay and every place it passes', () => {
    const path = strongestPaths(graph, originOf(graph, voiceB), -60).get(graph.indexOf('ears:b'));
    expect(path).toMatchObject({ gainDb: -18, delayMs: 240, places: ['voice:b', 'return:c', 'ears:c', 'voice:c', 'return:b', 'ears:b'] });
    expect(pathInWords(plan, path!.places)).toBe('B → C’s return → C’s ears → C → B’s return → B’s ears');
  });
  it('is not followed below the bound', () => {
    const paths = strongestPaths(graph, originOf(graph, voiceB), -17);
    expect(graph.places.every((_, place) => paths.get(place) === undefined)).toBe(true);
  });
});

describe('loops', () => {
  it('through two rooms are one loop, at the sum of their levels', () => {
    const plan: HearingPlan = { ...base, couplings: [loud('b', -6), loud('c', -10)] };
    const graph = soundGraph(plan);
    const [loop, ...more] = worstLoops(graph, 5);
    expect(more).toEqual([]);
    expect(loop.gainDb).toBeCloseTo(-16);
    expect(loop.delayMs).toBe(480);
    // Both couplings rise together: half of the loop's distance each.
    expect(stabilityMarginDb(graph)).toBeCloseTo(8, 1);
  });
  it('that add up are nearer to howling than each alone', () => {
    const alone = stabilityMarginDb(soundGraph({ ...base, couplings: [loud('b', -6), loud('c', -6)] }));
    const together = stabilityMarginDb(soundGraph({ ...base, couplings: [loud('a', -6), loud('b', -6), loud('c', -6)] }));
    expect(together).toBeLessThan(alone - 3);
  });
  it('end where the plan closes them', () => {
    const plan: HearingPlan = { ...base, couplings: [loud('b', -6), loud('c', -6)] };
    const closed = setCrosspoint(plan, 'voice:b', 'return:c', { open: false, gainDb: 0 });
    expect(stabilityMarginDb(soundGraph(closed))).toBe(Infinity);
    expect(auditPlan(closed).verdict).toBe('echo');
  });
});
