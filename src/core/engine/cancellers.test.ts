import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { returnOf, voiceOf } from '../hearing/ids';
import { createPlan, type Seat } from '../hearing/plan';
import { syntheticClip } from '../practice/synthetic-voice';
import { createEngine } from './engine';
import { CLOSED_STRIP, withInsert } from '../strip/settings';

const BLOCK = 128;
const RATE = 48_000;
const DELAY = 4800;
const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'link', reflexive: 'themselves' });
const plan = createPlan([seat('maren', 'host'), seat('odalys', 'caller'), seat('runa', 'caller')], []);
const places = compilePlan(plan);
const source = (id: string) => places.sourceIds.indexOf(voiceOf(id));
const listener = (id: string) => places.listenerIds.indexOf(returnOf(id));
const VOICE = syntheticClip(5, 8);

/** Maren speaks, and Odalys’s loudspeakers return her; what runa hears of it beside Maren herself, and what the track of Odalys gets. */
function call(seconds: number, cancel: { from: number; until: number } | null, processing = plan.processing) {
  const compiled = compilePlan({ ...plan, processing });
  const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: BLOCK });
  engine.setPlan(compiled);
  const length = Math.floor((seconds * RATE) / BLOCK) * BLOCK;
  const [sent, back, track, own] = Array.from({ length: 4 }, () => new Float32Array(length));
  for (let at = 0; at < length; at += BLOCK) {
    if (cancel && at === cancel.from * RATE) engine.cancel({ source: source('odalys'), listener: listener('odalys'), delayMs: (1000 * DELAY) / RATE, gainDb: -14 });
    if (cancel && at === cancel.until * RATE) engine.stopCancelling(source('odalys'));
    const maren = engine.inputs[source('maren')];
    const odalys = engine.inputs[source('odalys')];
    const [toRuna, toOdalys] = [engine.outputs[listener('runa')].left, engine.outputs[listener('odalys')].left];
    for (let i = 0; i < BLOCK; i++) {
      maren.left[i] = maren.right[i] = VOICE[(at + i) % VOICE.length];
      odalys.left[i] = odalys.right[i] = 0.2 * (sent[at + i - DELAY] ?? 0) + 0.05 * (sent[at + i - DELAY - 400] ?? 0);
    }
    engine.process(BLOCK);
    sent.set(toOdalys.subarray(0, BLOCK), at);
    track.set(engine.taps[source('odalys')].left.subarray(0, BLOCK), at);
    for (let i = 0; i < BLOCK; i++) {
      back[at + i] = toRuna[i] - VOICE[(at + i) % VOICE.length];
      own[at + i] = toOdalys[i] - VOICE[(at + i) % VOICE.length];
    }
  }
  return { back, track, own };
}

const levelDb = (samples: Float32Array, from: number, to: number): number => 10 * Math.log10(samples.subarray(from * RATE, to * RATE).reduce((sum, x) => sum + x * x, 0) / ((to - from) * RATE) + 1e-20);

describe('an echo that is cancelled in the engine', () => {
  const raw = call(12, null);
  const cancelled = call(12, { from: 2, until: 9 });

  it('is gone from every mix within seconds, comes back when it is to, and neither clicks', () => {
    expect(levelDb(raw.back, 5, 8) - levelDb(cancelled.back, 5, 8)).toBeGreaterThan(25);
    expect(cancelled.back.subarray(9.1 * RATE).every((x, i) => x === raw.back[Math.round(9.1 * RATE) + i])).toBe(true);
    let [step, usual] = [0, 0];
    for (const at of [2, 9]) for (let i = at * RATE; i < (at + 0.1) * RATE; i++) step = Math.max(step, Math.abs(cancelled.back[i] - cancelled.back[i - 1]));
    for (let i = 1; i < 2 * RATE; i++) usual = Math.max(usual, Math.abs(raw.back[i] - raw.back[i - 1]));
    expect(step).toBeLessThanOrEqual(usual);
  });

  it('stays on the track to the bit, and its owner’s return stays without it', () => {
    expect(cancelled.track.every((x, i) => x === raw.track[i])).toBe(true);
    // Behind the ramp that opens the call.
    expect(cancelled.own.subarray(RATE).every((x) => x === 0)).toBe(true);
  });

  it('is taken out before the voice goes through its strip', () => {
    const through = call(8, { from: 2, until: 100 }, { [voiceOf('odalys')]: withInsert(withInsert(CLOSED_STRIP, 'lowCut', { on: true }), 'compressor', { on: true }) });
    expect(levelDb(raw.back, 5, 8) - levelDb(through.back, 5, 8)).toBeGreaterThan(25);
  });
});
