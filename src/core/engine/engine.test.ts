import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compiledGain, compilePlan, type CompiledPlan } from '../hearing/compile';
import { returnOf, voiceOf } from '../hearing/ids';
import { NOTHING_ON_AIR } from '../hearing/on-air';
import type { HearingPlan } from '../hearing/plan';
import { dbToGain } from '../dsp/decibels';
import { createRandom } from '../random';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { createEngine, type Engine } from './engine';
import { CEILING_DBFS } from './limiter';

const MAX_BLOCK = 512;
const LIMITED = dbToGain(CEILING_DBFS);

function engineFor(plan: CompiledPlan): Engine {
  const engine = createEngine({
    sources: Math.max(1, plan.sourceIds.length),
    listeners: plan.listenerIds.length,
    maxBlock: MAX_BLOCK,
  });
  engine.setPlan(plan);
  return engine;
}

/** Runs the ramp of a fresh plan out, on silence. */
function settle(engine: Engine): void {
  for (const { left, right } of engine.inputs) {
    left.fill(0);
    right.fill(0);
  }
  engine.process(MAX_BLOCK);
}

/** A plan with quiet levels, so that no sum reaches the limiter. */
const quietPlan = arbitraryPlan.map((plan): HearingPlan => ({ ...plan, waiting: [], sources: {}, listeners: quiet(plan), exceptions: quietExceptions(plan) }));
const quiet = (plan: HearingPlan) =>
  Object.fromEntries(Object.entries(plan.listeners).map(([id, settings]) => [id, { ...settings!, levelDb: Math.min(0, settings!.levelDb) }]));
const quietExceptions = (plan: HearingPlan) =>
  Object.fromEntries(
    Object.entries(plan.exceptions).map(([id, row]) => [
      id,
      Object.fromEntries(Object.entries(row!).map(([source, point]) => [source, { ...point!, gainDb: Math.min(0, point!.gainDb) }])),
    ]),
  );

function fillWithNoise(engine: Engine, length: number, random: ReturnType<typeof createRandom>, peak = 0.05): void {
  for (const { left, right } of engine.inputs) {
    for (let i = 0; i < length; i++) {
      left[i] = random.between(-peak, peak);
      right[i] = random.between(-peak, peak);
    }
  }
}

describe('a listener', () => {
  it('is the sum the plan says, at any block length', () => {
    fc.assert(
      fc.property(quietPlan, fc.integer({ min: 1, max: MAX_BLOCK }), fc.nat(), (plan, length, seed) => {
        const compiled = compilePlan(plan);
        const engine = engineFor(compiled);
        settle(engine);
        fillWithNoise(engine, length, createRandom(seed));
        engine.process(length);
        compiled.listenerIds.forEach((listener, m) => {
          const gains = compiled.sourceIds.map((source) => compiledGain(compiled, source, listener));
          const raw = new Set(Array.from(compiled.source.subarray(compiled.first[m], compiled.first[m + 1])).filter((_, k) => compiled.raw[compiled.first[m] + k] === 1));
          const expected = (side: 'left' | 'right', i: number) => gains.reduce((sum, gain, n) => sum + (raw.has(n) ? engine.inputs[n] : engine.processed(n))[side][i] * gain, 0);
          let worst = 0;
          let loudest = 0;
          for (let i = 0; i < length; i++) {
            worst = Math.max(worst, Math.abs(engine.outputs[m].left[i] - expected('left', i)));
            loudest = Math.max(loudest, Math.abs(expected('left', i)), Math.abs(expected('right', i)));
          }
          // Strips may lift a voice so far that the sum meets the limiter, which is judged for itself.
          if (loudest < LIMITED) expect(worst).toBeLessThan(1e-6);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('hears digital zero of its owner driven alone, whatever the plan and while it changes', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.nat(), fc.array(fc.integer({ min: 1, max: MAX_BLOCK }), { minLength: 1, maxLength: 6 }), (plan, seed, lengths) => {
        const compiled = compilePlan(plan);
        const random = createRandom(seed);
        for (const seat of plan.seats.filter(({ role }) => role === 'caller')) {
          // An engine each: a filter still rings with what somebody else said before.
          const engine = engineFor(compiled);
          const slot = compiled.sourceIds.indexOf(voiceOf(seat.id));
          const output = engine.outputs[compiled.listenerIds.indexOf(returnOf(seat.id))];
          for (const length of lengths) {
            fillWithNoise(engine, length, random, 1);
            engine.inputs.forEach(({ left, right }, n) => n !== slot && (left.fill(0), right.fill(0)));
            engine.setPlan(compilePlan(plan, { onAir: { ...NOTHING_ON_AIR, listenTo: { listener: returnOf(seat.id) } } }));
            engine.process(length);
            const isZero = (sample: number) => sample === 0;
            expect(output.left.subarray(0, length).every(isZero) && output.right.subarray(0, length).every(isZero)).toBe(true);
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('is on the tracks as it came in, whatever is done to it for the mixes and whatever changes', () => {
    fc.assert(
      fc.property(arbitraryPlan, arbitraryPlan, fc.nat(), fc.integer({ min: 1, max: MAX_BLOCK }), (plan, next, seed, length) => {
        const [compiled, after] = [compilePlan(plan), compilePlan(next)];
        const engine = createEngine({ sources: Math.max(compiled.sourceIds.length, after.sourceIds.length), listeners: Math.max(compiled.listenerIds.length, after.listenerIds.length), maxBlock: MAX_BLOCK });
        const random = createRandom(seed);
        for (const one of [compiled, compiled, after, after]) {
          engine.setPlan(one);
          fillWithNoise(engine, length, random, 1);
          const came = engine.inputs.map(({ left, right }) => [left.slice(0, length), right.slice(0, length)]);
          engine.process(length);
          engine.taps.forEach(({ left, right }, n) => expect([left.subarray(0, length), right.subarray(0, length)]).toEqual(came[n]));
        }
      }),
      { numRuns: 25 },
    );
  });

  it('never rises above the ceiling, and is untouched below it', () => {
    const engine = engineFor(onePath(1));
    settle(engine);
    const { left, right } = engine.inputs[0];
    for (let i = 0; i < MAX_BLOCK; i++) left[i] = right[i] = 0.5 * Math.sin(i / 9);
    engine.process(MAX_BLOCK);
    expect(engine.outputs[0].left).toEqual(left);
    for (let i = 0; i < MAX_BLOCK; i++) left[i] = right[i] = 4 * Math.sin(i / 9);
    engine.process(MAX_BLOCK);
    const ceiling = 10 ** (CEILING_DBFS / 20);
    expect(Math.max(...engine.outputs[0].left)).toBeLessThanOrEqual(ceiling + 1e-6);
    expect(engine.limitedSamples(0)).toBeGreaterThan(0);
  });
});

describe('a plan change', () => {
  it('moves every gain in a straight line over 480 samples, wherever blocks are cut', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 300 }), { minLength: 8, maxLength: 20 }), (lengths) => {
        const engine = engineFor(onePath(0.2));
        settle(engine);
        engine.setPlan(onePath(0.9));
        let position = 0;
        let worst = 0;
        for (const length of lengths) {
          engine.inputs[0].left.fill(0.5);
          engine.process(length);
          for (let i = 0; i < length; i++, position++) {
            const gain = 0.2 + 0.7 * Math.min(1, (position + 1) / 480);
            worst = Math.max(worst, Math.abs(engine.outputs[0].left[i] - 0.5 * gain));
          }
        }
        expect(worst).toBeLessThan(1e-6);
      }),
    );
  });

  it('takes no step larger than the ramp allows, even when changes interrupt each other', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 1, max: 400 })), { minLength: 2, maxLength: 12 }), (changes) => {
        const engine = engineFor(onePath(0));
        let before = 0;
        let worst = 0;
        for (const [gain, length] of changes) {
          engine.setPlan(onePath(gain));
          // Half scale: a full one would be the limiter's business.
          engine.inputs[0].left.fill(0.5);
          engine.process(length);
          for (let i = 0; i < length; i++) {
            worst = Math.max(worst, Math.abs(engine.outputs[0].left[i] - before));
            before = engine.outputs[0].left[i];
          }
        }
        expect(worst).toBeLessThanOrEqual(0.5 / 480 + 1e-6);
      }),
    );
  });
});

describe('a tap', () => {
  it('is the input bit for bit, with impossible samples silenced and counted', () => {
    const engine = engineFor(onePath(0.1));
    const { left, right } = engine.inputs[0];
    left.set([0.25, NaN, -1.5, Infinity, 3e-20]);
    right.set([1, -Infinity, 0.5, 0, 0]);
    engine.process(5);
    expect([...engine.taps[0].left.subarray(0, 5)]).toEqual([0.25, 0, -1.5, 0, Math.fround(3e-20)]);
    expect([...engine.taps[0].right.subarray(0, 5)]).toEqual([1, 0, 0.5, 0, 0]);
    expect(engine.nonFiniteSamples(0)).toBe(3);
    for (const sample of engine.outputs[0].left.subarray(0, 5)) expect(Number.isFinite(sample)).toBe(true);
  });
});

describe('the meters', () => {
  it('read a sine’s peak and mean square, and its loudness as BS.1770 has it', () => {
    const engine = engineFor(onePath(1));
    // 997 Hz at full scale in one channel is −3.01 LUFS by the standard's own definition.
    for (let block = 0; block < 600; block++) {
      for (let i = 0; i < 480; i++) engine.inputs[0].left[i] = Math.sin((2 * Math.PI * 997 * (block * 480 + i)) / 48000);
      engine.process(480);
    }
    expect(engine.sourceMeters.peak[0]).toBeCloseTo(1, 3);
    expect(engine.sourceMeters.sumOfSquares[0] / engine.sourceMeters.samples()).toBeCloseTo(0.5, 3);
    expect(Math.abs(engine.sourceLoudness(0) + 3.01)).toBeLessThan(0.03);
  });
});

describe('the engine’s door', () => {
  it('refuses impossible sizes and plans that do not fit, in words', () => {
    expect(() => createEngine({ sources: 0, listeners: 1, maxBlock: 128 })).toThrow('sources must be a positive whole number, received 0.');
    const engine = createEngine({ sources: 1, listeners: 1, maxBlock: 128 });
    expect(() => engine.setPlan({ ...onePath(1), sourceIds: ['voice:a', 'voice:b'] })).toThrow('this engine holds 1 and 1');
  });
});

function onePath(gain: number): CompiledPlan {
  return {
    ducking: [],
    processing: [],
    offsets: [],
    sourceIds: ['voice:a'],
    listenerIds: ['program'],
    first: Uint16Array.of(0, 1),
    source: Uint16Array.of(0),
    gainLeft: Float32Array.of(gain),
    gainRight: Float32Array.of(gain),
    raw: new Uint8Array(1),
  };
}
