import { describe, expect, it } from 'vitest';
import { compilePlan, type CompileOptions } from '../hearing/compile';
import { setDucking, setListener, setStrip } from '../hearing/edit';
import { phonesOf, PROGRAM, soundsOf, voiceOf } from '../hearing/ids';
import { NOTHING_ON_AIR } from '../hearing/on-air';
import { createPlan, type HearingPlan, type Seat } from '../hearing/plan';
import { compressorGainDb } from '../strip/curves';
import { CLOSED_STRIP, withInsert, type StripSettings } from '../strip/settings';
import { createEngine, type Engine } from './engine';

const RATE = 48000;
const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'practice', reflexive: 'themselves' });
const plan = createPlan([seat('maren', 'host'), seat('odalys', 'caller'), seat('priya', 'caller')], [{ id: 'bed', name: 'Bed' }]);
const caller = voiceOf('odalys');
const sine = (hz: number, db: number, seconds: number) => Float32Array.from({ length: seconds * RATE }, (_, i) => Math.SQRT2 * 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / RATE));
const rmsDb = (samples: Float32Array) => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
const evenedOut = (strip: StripSettings) => withInsert(withInsert(strip, 'compressor', { on: true, makeUpDb: 3 }), 'lowCut', { on: true });
const processed = setStrip(plan, caller, evenedOut);
const GAIN_DB = compressorGainDb(-10, CLOSED_STRIP.compressor) + 3;

/** Plays a sound as the caller's voice; the plan changes at some blocks. */
function play(voice: Float32Array, plans: Record<number, [HearingPlan, CompileOptions?]>, look: (engine: Engine, at: number) => void): void {
  const compiled = compilePlan(plan);
  const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: 128 });
  const source = compiled.sourceIds.indexOf(caller);
  for (let at = 0; at < voice.length; at += 128) {
    const next = plans[at / 128];
    if (next) engine.setPlan(compilePlan(...next));
    engine.inputs[source].left.set(voice.subarray(at, at + 128));
    engine.inputs[source].right.set(voice.subarray(at, at + 128));
    engine.process(128);
    expect(engine.taps[source].left).toEqual(voice.subarray(at, at + 128));
    look(engine, at);
  }
}

const place = (id: string) => compilePlan(plan).listenerIds.findIndex((one) => one === id);
const second = (samples: Float32Array, from: number) => samples.subarray(from * RATE, (from + 1) * RATE);

describe('a voice that is processed', () => {
  it('is processed for the mixes alone: its tap is what came in, and switching neither steps nor leaves a trace', () => {
    const voice = sine(200, -10, 4);
    const [heard, taken] = [new Float32Array(voice.length), new Float32Array(voice.length)];
    play(voice, { 0: [plan], 375: [processed], 940: [plan] }, (engine, at) => {
      heard.set(engine.outputs[place(PROGRAM)].left, at);
      taken.set(engine.processed(compilePlan(plan).sourceIds.indexOf(caller)).left, at);
    });
    expect(Math.abs(rmsDb(second(heard, 1.4)) + 10 - GAIN_DB)).toBeLessThan(0.4);
    expect(second(heard, 3)).toEqual(second(voice, 3));
    expect(second(taken, 1.4)).toEqual(second(heard, 1.4));
    const steepest = (samples: Float32Array) => samples.reduce((most, x, i) => (i === 0 ? 0 : Math.max(most, Math.abs(x - samples[i - 1]))), 0);
    expect(steepest(heard.subarray(RATE / 2))).toBeLessThan(1.05 * 10 ** (3 / 20) * steepest(voice));
  });

  it('is given as it comes in to whoever wants it so, and to the others through the strip; from one to the other nothing steps', () => {
    const voice = sine(200, -10, 4);
    const raw = setListener(processed, PROGRAM, { asTheyCome: true });
    const [program, phones] = [new Float32Array(voice.length), new Float32Array(voice.length)];
    play(voice, { 0: [raw], 750: [processed], 1200: [raw] }, (engine, at) => {
      program.set(engine.outputs[place(PROGRAM)].left, at);
      phones.set(engine.outputs[place(phonesOf('maren'))].left, at);
    });
    expect(second(program, 1)).toEqual(second(voice, 1));
    expect(Math.abs(rmsDb(second(phones, 1)) + 10 - GAIN_DB)).toBeLessThan(0.4);
    expect(second(program, 2.1)).toEqual(second(phones, 2.1));
    expect(program.subarray(3.5 * RATE)).toEqual(voice.subarray(3.5 * RATE));
    const steps = program.map((x, i) => Math.abs(x - (program[i - 1] ?? 0))).subarray(RATE);
    expect(steps.reduce((most, x) => Math.max(most, x), 0)).toBeLessThan(2 * Math.abs(voice[1] - voice[0]));
  });

  it('is compared in the phones alone: before its strip at the gain that is asked for', () => {
    const voice = sine(200, -10, 4);
    const listen = (asItComes?: { gainDb: number }): CompileOptions => ({ onAir: { ...NOTHING_ON_AIR, listenTo: { source: caller, ...(asItComes && { asItComes }) } } });
    const [program, phones] = [new Float32Array(voice.length), new Float32Array(voice.length)];
    let [before, behind] = [0, 0];
    const early: number[] = [];
    play(voice, { 0: [processed, listen()], 560: [processed, listen({ gainDb: -6 })] }, (engine, at) => {
      if (at === 0) engine.compare(compilePlan(plan).sourceIds.indexOf(caller));
      program.set(engine.outputs[place(PROGRAM)].left, at);
      phones.set(engine.outputs[place(phonesOf('maren'))].left, at);
      if (at < 2.9 * RATE) early.push(engine.comparedLoudness());
      [before, behind] = [engine.sourceLoudness(compilePlan(plan).sourceIds.indexOf(caller)), engine.comparedLoudness()];
    });
    expect(rmsDb(phones.subarray(RATE, 1.4 * RATE))).toBeCloseTo(-10 + GAIN_DB, 0);
    expect(rmsDb(phones.subarray(2 * RATE))).toBeCloseTo(-16, 1);
    expect(rmsDb(program.subarray(2 * RATE))).toBeCloseTo(-10 + GAIN_DB, 0);
    expect(Math.abs(behind - before - GAIN_DB)).toBeLessThan(0.3);
    expect(early.every(Number.isNaN), 'nothing is said of a voice that was heard for less than three seconds').toBe(true);
  });

  it('can be a sound that also goes under the voices: first its strip, then down', () => {
    const bed = soundsOf('bed');
    const both = setDucking(setStrip(plan, bed, (strip) => withInsert(strip, 'equaliser', { on: true, bands: strip.equaliser.bands.map((band, k) => ({ ...band, gainDb: k === 0 ? 6 : 0 })) })), bed, { on: true, depthDb: 12, attackMs: 10, holdMs: 1000, releaseMs: 100, under: null, thresholdDb: -50 });
    const compiled = compilePlan(both);
    const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: 128 });
    engine.setPlan(compiled);
    const low = sine(60, -30, 3);
    // Words: a tone that goes on and on is taken for noise.
    const talk = sine(400, -20, 3).map((x, i) => (i % (RATE / 3) < RATE / 5 ? x : 0));
    const heard = new Float32Array(low.length);
    for (let at = 0; at < low.length; at += 128) {
      engine.inputs[compiled.sourceIds.indexOf(bed)].left.set(low.subarray(at, at + 128));
      if (at > RATE) engine.inputs[compiled.sourceIds.indexOf(caller)].left.set(talk.subarray(at, at + 128));
      engine.process(128);
      heard.set(engine.outputs[place('return:odalys')].left, at);
    }
    expect(Math.abs(rmsDb(heard.subarray(RATE / 2, RATE)) + 30 - 6)).toBeLessThan(0.4);
    expect(Math.abs(rmsDb(heard.subarray(2 * RATE)) + 30 - 6 + 12)).toBeLessThan(0.4);
  });
});
