import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { DEFAULT_DUCKING } from '../hearing/ducking';
import { PROGRAM, soundsOf, voiceOf } from '../hearing/ids';
import { NOTHING_ON_AIR, type OnAir } from '../hearing/on-air';
import { createPlan, type HearingPlan, type Seat } from '../hearing/plan';
import { createRandom } from '../random';
import { syntheticClip } from '../practice/synthetic-voice';
import { createEngine, type Engine } from './engine';

const BLOCK = 128;
const RATE = 48000;
const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'practice', reflexive: 'themselves' });
const ducking = { ...DEFAULT_DUCKING, on: true, depthDb: 15, attackMs: 120, holdMs: 300, releaseMs: 800 };
const plan: HearingPlan = {
  ...createPlan([seat('maren', 'host'), seat('odalys', 'caller')], [{ id: 'bed', name: 'Bed' }]),
  ducking: { [soundsOf('bed')]: ducking },
};

/** Runs a desk with a steady bed; `voice` gives the caller's sound. Returns the bed's gain, dB, after each block. */
function ride(voice: (i: number) => number, seconds: number, using = plan, onAir = NOTHING_ON_AIR) {
  const compiled = compilePlan(using, { onAir });
  const engine: Engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: BLOCK });
  engine.setPlan(compiled);
  const [bed, caller] = [soundsOf('bed'), voiceOf('odalys')].map((id) => compiled.sourceIds.indexOf(id));
  const program = compiled.listenerIds.indexOf(PROGRAM);
  const gains: number[] = [];
  let largestStep = 0;
  let before = 0;
  for (let at = 0; at < seconds * RATE; at += BLOCK) {
    engine.inputs[bed].left.fill(0.1);
    engine.inputs[bed].right.fill(0.1);
    for (let i = 0; i < BLOCK; i++) engine.inputs[caller].left[i] = engine.inputs[caller].right[i] = voice(at + i);
    engine.process(BLOCK);
    expect(engine.taps[bed].left[0]).toBe(Math.fround(0.1));
    // What the program hears of the bed: its mix without the voice.
    for (let i = 0; i < BLOCK; i++) {
      const heard = engine.outputs[program].left[i] - engine.inputs[caller].left[i];
      if (at > RATE / 10) largestStep = Math.max(largestStep, Math.abs(heard - before));
      before = heard;
    }
    // A fresh plan opens in the first 10 ms.
    gains.push(at < RATE / 10 ? 0 : 20 * Math.log10(before / 0.1));
  }
  return { gains, largestStep };
}

const speech = syntheticClip(7, 1.6);
const talk = (from: number) => (i: number) => (i >= from && i < from + speech.length ? speech[i - from] : 0);
const blocks = (ms: number) => (ms / 1000) * (RATE / BLOCK);

describe('a bed under the voices', () => {
  it('goes down as far and as fast as it is told, holds, and comes back, without a step', () => {
    const from = RATE;
    const { gains, largestStep } = ride(talk(from), 6);
    const began = gains.findIndex((db) => db < -0.05);
    const down = gains.findIndex((db) => db < -ducking.depthDb + 0.05);
    const lasts = gains.findLastIndex((db) => db < -ducking.depthDb + 0.05);
    const back = gains.findIndex((db, k) => k > lasts && db > -0.05);
    expect(gains[began - 2]).toBeCloseTo(0, 3);
    // The gate needs a moment to be sure that this is a voice.
    expect(((began * BLOCK - from) / RATE) * 1000).toBeLessThan(150);
    expect(Math.min(...gains)).toBeCloseTo(-ducking.depthDb, 1);
    expect(Math.abs(down - began - blocks(ducking.attackMs))).toBeLessThanOrEqual(2);
    expect(Math.abs(back - lasts - blocks(ducking.releaseMs))).toBeLessThanOrEqual(2);
    const half = gains[Math.round(began + blocks(ducking.attackMs / 2))];
    expect(Math.abs(half + ducking.depthDb / 2)).toBeLessThan(1);
    const heldMs = ((lasts * BLOCK - (from + speech.length)) / RATE) * 1000;
    expect(heldMs).toBeGreaterThan(ducking.holdMs - 250);
    expect(heldMs).toBeLessThan(ducking.holdMs + 100);
    // Evenly in dB, a sample changes the bed by no more than this.
    expect(largestStep).toBeLessThan(0.1 * (10 ** (ducking.depthDb / 20 / ((ducking.attackMs / 1000) * RATE)) - 1) * 1.2 + 1e-6);
  });

  it('stays up for breath, hiss, hum and knocks', () => {
    const random = createRandom(3);
    let before = 0;
    // White noise with its lows taken out is what breath in a microphone is like.
    const breath = (i: number) => {
      const white = random.between(-1, 1);
      const high = white - before;
      before = white;
      return 0.12 * high * Math.sin((Math.PI * (i % 40_000)) / 40_000);
    };
    const hum = (i: number) => 0.05 * Math.sin((2 * Math.PI * 150 * i) / RATE);
    const knock = (i: number) => (i % RATE < 240 ? 0.5 * Math.sin((2 * Math.PI * 300 * i) / RATE) : 0);
    for (const [name, noise] of Object.entries({ breath, knock })) {
      expect(Math.min(...ride(noise, 4).gains), name).toBeGreaterThan(-0.1);
    }
    // A hum that begins is taken for a voice at first, and then no longer.
    expect(ride(hum, 8).gains.at(-1)).toBeGreaterThan(-0.1);
  });

  it('does not move for who is not asked, who coughs, or who waits', () => {
    const asked: HearingPlan = { ...plan, ducking: { [soundsOf('bed')]: { ...ducking, under: ['maren'] } } };
    const cough = { ...NOTHING_ON_AIR, cough: { [voiceOf('odalys')]: { callers: true, program: true } } };
    expect(Math.min(...ride(talk(0), 2, asked).gains.slice(50))).toBeGreaterThan(-0.01);
    for (const [using, onAir] of [[plan, cough], [{ ...plan, waiting: ['odalys'] }, NOTHING_ON_AIR]] as [HearingPlan, OnAir][]) {
      const compiled = compilePlan(using, { onAir });
      expect(compiled.ducking[0].keys.map((place) => compiled.sourceIds[place])).toEqual([voiceOf('maren')]);
    }
  });
});

describe('listening first', () => {
  it('reaches the phones and nothing else, whatever the plan', () => {
    const compiled = compilePlan(plan);
    const cue = compiled.sourceIds.indexOf('cue');
    const hearing = compiled.listenerIds.filter((_, m) => compiled.source.subarray(compiled.first[m], compiled.first[m + 1]).includes(cue));
    expect(hearing).toEqual(['phones:maren']);
  });
});
