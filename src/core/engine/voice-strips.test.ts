import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evenOutGainDb, LOW_CUT_HZ, RATIO, THRESHOLD_DB, VoiceStrip } from '../dsp/voice-strip';
import { compilePlan } from '../hearing/compile';
import { setProcessing } from '../hearing/edit';
import { PROGRAM, voiceOf } from '../hearing/ids';
import { createPlan, type Seat } from '../hearing/plan';
import { createRandom } from '../random';
import { createEngine } from './engine';

const RATE = 48000;
const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'practice', reflexive: 'themselves' });
const plan = createPlan([seat('maren', 'host'), seat('odalys', 'caller')]);
const caller = voiceOf('odalys');
const sine = (hz: number, db: number, seconds: number) => Float32Array.from({ length: seconds * RATE }, (_, i) => Math.SQRT2 * 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / RATE));
const rmsDb = (samples: Float32Array) => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);

function strip(samples: Float32Array, settings: { lowCut: boolean; evenOut: boolean }, block = 128): Float32Array {
  const one = new VoiceStrip();
  one.set(settings);
  const out = new Float32Array(samples.length);
  const other = new Float32Array(block);
  for (let at = 0; at < samples.length; at += block) {
    const piece = samples.subarray(at, at + block);
    one.process(piece, piece, out.subarray(at, at + block), other, piece.length);
  }
  return out;
}

describe('a voice that is processed', () => {
  it.each([
    [LOW_CUT_HZ / 2, -12.3],
    [LOW_CUT_HZ, -3],
    [1000, 0],
  ])('passes %d Hz at %d dB where its rumble is cut', (hz, db) => {
    const out = strip(sine(hz, -30, 2), { lowCut: true, evenOut: false });
    expect(Math.abs(rmsDb(out.subarray(RATE)) + 30 - db)).toBeLessThan(0.1);
  });

  it('rises by a third above the threshold, and is left alone below the knee', () => {
    for (const db of [-40, THRESHOLD_DB, -16, -6]) {
      const out = strip(sine(300, db, 2), { lowCut: false, evenOut: true });
      expect(Math.abs(rmsDb(out.subarray(RATE)) - db - evenOutGainDb(db)), `at ${db} dBFS`).toBeLessThan(0.3);
    }
    expect(evenOutGainDb(-40)).toBe(0);
    expect(evenOutGainDb(-6)).toBeCloseTo((1 / RATIO - 1) * (-6 - THRESHOLD_DB), 6);
  });

  it('comes out the same whatever the length of the blocks', () => {
    const random = createRandom(5);
    const voice = Float32Array.from({ length: RATE / 2 }, () => random.next() - 0.5);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 700 }), fc.boolean(), fc.boolean(), (block, lowCut, evenOut) => {
        expect(strip(voice, { lowCut, evenOut }, block)).toEqual(strip(voice, { lowCut, evenOut }));
      }),
      { numRuns: 12 },
    );
  });

  it('is processed for the mixes alone: its tap is what came in, and switching neither steps nor leaves a trace', () => {
    const compiled = compilePlan(plan);
    const processed = compilePlan(setProcessing(plan, caller, { lowCut: true, evenOut: true }));
    const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: 128 });
    const source = compiled.sourceIds.indexOf(caller);
    const program = compiled.listenerIds.indexOf(PROGRAM);
    const voice = sine(200, -10, 4);
    const heard = new Float32Array(voice.length);
    const taken = new Float32Array(voice.length);
    engine.setPlan(compiled);
    for (let at = 0; at < voice.length; at += 128) {
      if (at === RATE) engine.setPlan(processed);
      if (at === 940 * 128) engine.setPlan(compiled);
      engine.inputs[source].left.set(voice.subarray(at, at + 128));
      engine.inputs[source].right.set(voice.subarray(at, at + 128));
      engine.process(128);
      expect(engine.taps[source].left).toEqual(voice.subarray(at, at + 128));
      heard.set(engine.outputs[program].left, at);
      taken.set(engine.processed(source).left, at);
    }
    const second = (samples: Float32Array, from: number) => samples.subarray(from * RATE, (from + 1) * RATE);
    // The low cut lowers 200 Hz by 0.1 dB; the rest is the leveller's.
    expect(Math.abs(rmsDb(second(heard, 1.4)) + 10 - evenOutGainDb(-10))).toBeLessThan(0.4);
    expect(second(heard, 3)).toEqual(second(voice, 3));
    expect(second(taken, 1.4)).toEqual(second(heard, 1.4));
    const steepest = (samples: Float32Array) => samples.reduce((most, x, i) => (i === 0 ? 0 : Math.max(most, Math.abs(x - samples[i - 1]))), 0);
    expect(steepest(heard.subarray(RATE / 2))).toBeLessThan(1.05 * steepest(voice));
  });
});
