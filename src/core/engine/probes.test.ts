import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { returnOf, voiceOf } from '../hearing/ids';
import { createPlan, type Seat } from '../hearing/plan';
import { createEngine } from './engine';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'link', reflexive: 'themselves' });
const compiled = compilePlan(createPlan([seat('maren', 'host'), seat('odalys', 'caller'), seat('runa', 'caller')], []));
const source = (id: string) => compiled.sourceIds.indexOf(voiceOf(id));
const listener = (id: string) => compiled.listenerIds.indexOf(returnOf(id));
const PERIOD = Float32Array.from({ length: 100 }, (_, i) => (i + 1) / 1000);
/** What every microphone says. */
const VOICE = 0.25;

/** Runs a desk block by block; what each listener is given, and what each track gets, one after another. */
function desk(block: number) {
  const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: block });
  engine.setPlan(compiled);
  const heard = compiled.listenerIds.map(() => [] as number[]);
  const tracks = compiled.sourceIds.map(() => [] as number[]);
  const run = (samples: number) => {
    for (let at = 0; at < samples; at += block) {
      for (const id of ['maren', 'odalys', 'runa']) {
        engine.inputs[source(id)].left.fill(VOICE);
        engine.inputs[source(id)].right.fill(VOICE);
      }
      engine.process(block);
      engine.outputs.forEach(({ left }, m) => heard[m].push(...left.subarray(0, block)));
      engine.taps.forEach(({ left }, n) => tracks[n].push(...left.subarray(0, block)));
    }
  };
  run(1024);
  for (const one of [...heard, ...tracks]) one.length = 0;
  return { engine, heard, tracks, run };
}

describe('probes', () => {
  it('take a source’s place in every mix that hears it, for so many samples, and leave its track alone', () => {
    const { engine, heard, tracks, run } = desk(128);
    engine.probe([{ of: 'source', slot: source('odalys'), period: PERIOD }, { of: 'source', slot: source('maren'), period: null }], 4800);
    expect(engine.probesLeft()).toBe(4800);
    run(6400);
    const runa = heard[listener('runa')];
    // Behind the fade of 10 ms: the probe alone, for of the two others one is silent.
    for (const at of [480, 1111, 4000, 4319]) expect(runa[at], `sample ${at}`).toBeCloseTo(PERIOD[at % 100], 6);
    for (const at of [4900, 6399]) expect(runa[at]).toBeCloseTo(2 * VOICE, 6);
    expect(heard[listener('odalys')][2000]).toBeCloseTo(VOICE, 6);
    expect(tracks[source('odalys')].every((x) => x === VOICE)).toBe(true);
    expect(engine.probesLeft()).toBe(0);
  });

  it('are given to one listener alone, beside what it hears', () => {
    const { engine, heard, run } = desk(128);
    engine.probe([{ of: 'listener', slot: listener('odalys'), period: PERIOD }], 2560);
    run(3840);
    expect(heard[listener('odalys')][1500]).toBeCloseTo(2 * VOICE + PERIOD[0], 6);
    expect(heard[listener('odalys')][3000]).toBeCloseTo(2 * VOICE, 6);
    expect(heard[listener('runa')].every((x) => Math.abs(x - 2 * VOICE) < 1e-6)).toBe(true);
  });

  it('are the same whatever the block length, never click, and end when they are stopped', () => {
    const sound = [64, 128, 512].map((block) => {
      const { engine, heard, run } = desk(block);
      engine.probe([{ of: 'source', slot: source('odalys'), period: PERIOD.map(() => 0.1) }], 48_000);
      run(2048);
      engine.stopProbes();
      run(2048);
      return heard[listener('runa')];
    });
    for (const other of sound.slice(1)) other.forEach((x, i) => expect(Math.abs(x - sound[0][i])).toBeLessThan(1e-6));
    for (let i = 1; i < sound[0].length; i++) expect(Math.abs(sound[0][i] - sound[0][i - 1])).toBeLessThan(0.002);
    expect(sound[0].at(-1)).toBeCloseTo(2 * VOICE, 6);
  });

  it('go on through a change of plan, and are refused for a place that is not there', () => {
    const { engine, heard, run } = desk(128);
    engine.probe([{ of: 'source', slot: source('odalys'), period: PERIOD }], 9600);
    run(1024);
    engine.setPlan(compiled);
    run(3072);
    expect(heard[listener('runa')][3000]).toBeCloseTo(VOICE + PERIOD[0], 6);
    expect(() => engine.probe([{ of: 'listener', slot: 99, period: PERIOD }], 10)).toThrow(RangeError);
    expect(() => engine.probe([{ of: 'source', slot: 0, period: new Float32Array(0) }], 10)).toThrow(RangeError);
  });
});
