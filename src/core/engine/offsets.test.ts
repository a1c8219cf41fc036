import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { setStrip, setSource } from '../hearing/edit';
import { compilePlan } from '../hearing/compile';
import { createPlan, type HearingPlan, type Seat } from '../hearing/plan';
import { createRandom } from '../random';
import { createEngine } from './engine';
import { withInsert } from '../strip/settings';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'pair', reflexive: 'themselves' });
const PLAN = createPlan([seat('maren', 'host'), seat('tomasz', 'caller')]);
const BLOCK = 128;

/** Plays noise as Tomasz through plans that come into force at their samples; what the program hears, and the track. */
function play(plans: [atSample: number, plan: HearingPlan][], length: number, seed: number) {
  const engine = createEngine({ sources: 8, listeners: 8, maxBlock: BLOCK });
  const random = createRandom(seed);
  const { sourceIds, listenerIds } = compilePlan(PLAN);
  const slot = sourceIds.indexOf('voice:tomasz');
  const [sent, track, heard] = [new Float32Array(length), new Float32Array(length), new Float32Array(length)];
  for (let at = 0; at < length; at += BLOCK) {
    for (const [from, plan] of plans) if (from === at) engine.setPlan(compilePlan(plan), 0);
    for (let i = 0; i < BLOCK; i++) sent[at + i] = engine.inputs[slot].left[i] = engine.inputs[slot].right[i] = 0.2 * (random.next() - 0.5);
    engine.process(BLOCK);
    track.set(engine.taps[slot].left.subarray(0, BLOCK), at);
    heard.set(engine.outputs[listenerIds.indexOf('program')].left.subarray(0, BLOCK), at);
  }
  return { sent, track, heard };
}

const later = (plan: HearingPlan, offsetMs: number) => setSource(plan, 'voice:tomasz', { offsetMs });

describe('a source that is delayed by hand', () => {
  it('comes so much later into the mixes, to the sample, and its track is not shifted', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2000 }), fc.integer({ min: 0, max: 999 }), (offsetMs, seed) => {
        const { sent, track, heard } = play([[0, later(PLAN, offsetMs)]], 128 * 900, seed);
        const samples = offsetMs * 48;
        expect(track).toEqual(sent);
        // The gains of the first plan move up in the first 10 ms.
        for (let i = samples + 1024; i < heard.length; i++) if (heard[i] !== sent[i - samples]) throw new Error(`sample ${i} is another`);
      }),
      { numRuns: 12 },
    );
  });

  it('moves from one delay to another, and back to none, without a click, and is the same to the bit again', () => {
    const { sent, heard } = play([[0, PLAN], [12800, later(PLAN, 100)], [51200, PLAN]], 128 * 600, 3);
    const at = (from: number, delay: number, length = 4000) => expect(heard.subarray(from, from + length)).toEqual(sent.subarray(from - delay, from - delay + length));
    at(4000, 0);
    at(30000, 4800);
    at(60000, 0);
    expect(Math.max(...heard.subarray(12800, 14000)), 'no more than either').toBeLessThan(0.11);
  });

  it('is delayed behind what is done to it', () => {
    const strip = setStrip(PLAN, 'voice:tomasz', (one) => withInsert(one, 'lowCut', { on: true }));
    const plain = play([[0, strip]], 128 * 400, 5).heard;
    const { heard } = play([[0, later(strip, 50)]], 128 * 400, 5);
    expect(heard.subarray(10000, 40000)).toEqual(plain.subarray(10000 - 2400, 40000 - 2400));
  });
});
