import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { highShelf, responseDb } from '../../dsp/biquad';
import { createTruePeakMeasure } from '../../measure/true-peak';
import { createRandom } from '../../random';
import { compressorGainDb, deEsserGainDb, equaliserFilters, lowCutFilters, toneDb } from '../../strip/curves';
import { declaredDelay, declaredGainDb } from '../../strip/declared';
import { CLOSED_STRIP, withInsert, type StripSettings } from '../../strip/settings';
import { arbitraryStrip } from '../../testing/arbitrary-plan';
import { createKernel } from '../../kernel/kernel';
import { LEVEL_SECONDS } from './compressor';
import { HYSTERESIS_DB } from './gate';
import { Strip, STRIP_BYTES } from './strip';

const RATE = 48_000;
const MAX_BLOCK = 512;

/** Runs a strip over a mono sound; `settings` says what it is set to at each sample it changes. */
function through(samples: Float32Array, settings: [at: number, strip: StripSettings][], block = 128): Float32Array {
  const kernel = createKernel(MAX_BLOCK, STRIP_BYTES + 3 * (2 * MAX_BLOCK * 4 + 16));
  const strip = new Strip(kernel, MAX_BLOCK, RATE);
  const [input, output, scratch] = [kernel.stereo(), kernel.stereo(), kernel.stereo()];
  const out = new Float32Array(samples.length);
  const changes = [...settings];
  for (let at = 0; at < samples.length; ) {
    if (changes.length > 0 && changes[0][0] <= at) strip.set(changes.shift()![1]);
    const until = Math.min(samples.length, at + block, changes[0]?.[0] ?? Infinity);
    const piece = samples.subarray(at, until);
    input.left.set(piece);
    input.right.set(piece);
    if (strip.atRest()) output.left.set(piece);
    else strip.process(input, output, scratch, piece.length);
    out.set(output.left.subarray(0, piece.length), at);
    at = until;
  }
  return out;
}

const sine = (hz: number, db: number, seconds: number) => Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => Math.SQRT2 * 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / RATE));
const rmsDb = (samples: Float32Array) => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
const noise = (seed: number, length: number, size: number) => {
  const random = createRandom(seed);
  return Float32Array.from({ length }, () => size * random.normal());
};
const only = <Name extends keyof StripSettings>(name: Name, change: Partial<StripSettings[Name]> = {}) => withInsert(CLOSED_STRIP, name, { on: true, ...change } as Partial<StripSettings[Name]>);
/** Strips without the network, which is tested by itself. */
const strips = arbitraryStrip.map((strip) => withInsert(strip, 'noise', { on: false }));

describe('low cut and tone', () => {
  it('do to every frequency what the formulas say, within 0.1 dB', () => {
    fc.assert(
      fc.property(strips, fc.double({ min: Math.log(40), max: Math.log(18_000), noNaN: true }), (any, logHz) => {
        const strip = withInsert(withInsert(CLOSED_STRIP, 'lowCut', { ...any.lowCut, on: true }), 'equaliser', { ...any.equaliser, on: true });
        // Whole periods in the second that is measured.
        const hz = Math.round(Math.exp(logHz));
        const heard = through(sine(hz, -40, 2), [[0, strip]]);
        const wanted = toneDb(strip, hz, RATE);
        if (wanted > -50) expect(Math.abs(rmsDb(heard.subarray(RATE)) + 40 - wanted)).toBeLessThan(0.1);
      }),
      { numRuns: 40 },
    );
  });

  it('are second-order filters by the cookbook: half a shelf at its edge, a bell’s gain in its middle, −3 dB where the cut begins', () => {
    const [low, bell, , high] = equaliserFilters({ on: true, bands: [[200, 6, 1], [1000, -8, 2], [3000, 0, 1], [8000, -4, 1]].map(([hz, gainDb, q]) => ({ hz, gainDb, q })) }, RATE);
    expect(responseDb(low, 200, RATE)).toBeCloseTo(3, 3);
    expect(responseDb(low, 10, RATE)).toBeCloseTo(6, 1);
    expect(responseDb(bell, 1000, RATE)).toBeCloseTo(-8, 6);
    expect(responseDb(high, 8000, RATE)).toBeCloseTo(-2, 3);
    expect(responseDb(high, 23_000, RATE)).toBeCloseTo(-4, 1);
    expect(responseDb(lowCutFilters({ on: true, hz: 80 }, RATE)[0], 80, RATE)).toBeCloseTo(-3.01, 2);
  });

  it('raise nothing by more than they declare', () => {
    fc.assert(
      fc.property(strips.map((strip) => withInsert(strip, 'equaliser', { on: true })), fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true }), (strip, offset) => {
        const makeUp = strip.compressor.on ? strip.compressor.makeUpDb : 0;
        // Up to half the rate, however near: a loop finds the one frequency at which it grows.
        const tones = Array.from({ length: 400 }, (_, k) => toneDb(strip, (RATE / Math.PI) * Math.atan(1e-4 * 10 ** ((9 * (k + offset)) / 400)), RATE));
        expect(makeUp + Math.max(...tones)).toBeLessThanOrEqual(declaredGainDb(strip) + 1e-9);
      }),
      { numRuns: 300 },
    );
  });
});

describe('what follows the level', () => {
  it('turns steady tones down by the static curve of the compressor, within 0.5 dB', () => {
    for (const [thresholdDb, ratio, makeUpDb] of [[-26, 3, 0], [-40, 10, 6], [-18, 1.5, 12]]) {
      for (const db of [-50, thresholdDb, thresholdDb + 2, -16, -6]) {
        const heard = through(sine(300, db, 2), [[0, only('compressor', { thresholdDb, ratio, makeUpDb })]]);
        expect(Math.abs(rmsDb(heard.subarray(RATE)) - db - compressorGainDb(db, { thresholdDb, ratio }) - makeUpDb), `${ratio} : 1 above ${thresholdDb}, at ${db}`).toBeLessThan(0.5);
      }
    }
  });

  it('comes down and up as attack and release say, within 0.5 dB', () => {
    for (const [attackMs, releaseMs] of [[5, 80], [30, 300], [100, 1000]]) {
      const settings = { thresholdDb: -30, ratio: 4, makeUpDb: 0, attackMs, releaseMs };
      const [quiet, loud] = [-45, -12];
      const sound = sine(1000, loud, 5);
      for (let i = 0; i < sound.length; i++) if (i < RATE || i >= 3 * RATE) sound[i] *= 10 ** ((quiet - loud) / 20);
      const heard = through(sound, [[0, only('compressor', settings)]]);
      // The same, from the definitions: a level averaged by one pole, the curve, and attack or release by another.
      let [power, gainDb] = [0, 0];
      const share = (seconds: number) => 1 - Math.exp(-1 / (seconds * RATE));
      const window = 96;
      for (let i = 0; i < sound.length; i++) {
        const levelDb = i < RATE || i >= 3 * RATE ? quiet : loud;
        power += share(LEVEL_SECONDS) * (10 ** (levelDb / 10) - power);
        const wanted = compressorGainDb(10 * Math.log10(power + 1e-12), settings);
        gainDb += share((wanted < gainDb ? attackMs : releaseMs) / 1000) * (wanted - gainDb);
        if (i % 997 !== 500 || i < RATE / 2) continue;
        const measured = rmsDb(heard.subarray(i - window / 2, i + window / 2)) - rmsDb(sound.subarray(i - window / 2, i + window / 2));
        const near = i % (2 * RATE) < RATE + window && i % (2 * RATE) > RATE - window;
        if (!near) expect(Math.abs(measured - gainDb), `at ${(i / RATE).toFixed(3)} s, attack ${attackMs} ms`).toBeLessThan(0.5);
      }
    }
  });

  it('lowers pauses by the range of the gate once the hold is over, and lets every word begin', () => {
    const settings = { thresholdDb: -45, rangeDb: 20, attackMs: 2, holdMs: 200, releaseMs: 100 };
    const sound = sine(500, -55, 4);
    for (let i = RATE; i < 2 * RATE; i++) sound[i] *= 10 ** (35 / 20);
    const heard = through(sound, [[0, only('gate', settings)]]);
    const gainAt = (seconds: number) => rmsDb(heard.subarray(seconds * RATE, seconds * RATE + 960)) - rmsDb(sound.subarray(seconds * RATE, seconds * RATE + 960));
    expect(Math.abs(gainAt(0.9) + 20)).toBeLessThan(0.1);
    expect(Math.abs(gainAt(1.02))).toBeLessThan(0.1);
    expect(Math.abs(gainAt(2.15))).toBeLessThan(0.1);
    // Evenly in dB: 10 of 20 dB in half the release.
    const halfway = gainAt(2 + 0.2 + 0.05 + 0.003 * ((35 - 10 + HYSTERESIS_DB) / 4.34) - 0.01);
    expect(Math.abs(halfway + 10)).toBeLessThan(2.5);
    expect(Math.abs(gainAt(3) + 20)).toBeLessThan(0.1);
  });

  it('lowers an s by the de-esser’s curve and leaves vowels alone, however loud somebody speaks', () => {
    const settings = { hz: 5000, thresholdDb: -12, rangeDb: 8 };
    for (const db of [-50, -35, -15]) {
      const hiss = through(sine(9000, db, 1), [[0, only('deEsser', settings)]]);
      const lowered = responseDb(highShelf(settings.hz, deEsserGainDb(0, settings), RATE), 9000, RATE);
      expect(Math.abs(rmsDb(hiss.subarray(RATE / 2)) - db - lowered), `an s at ${db}`).toBeLessThan(0.5);
      const vowel = through(sine(400, db, 1), [[0, only('deEsser', settings)]]);
      expect(Math.abs(rmsDb(vowel.subarray(RATE / 2)) - db), `a vowel at ${db}`).toBeLessThan(0.05);
    }
  });

  it('lets no peak over the limiter’s ceiling, between samples either', () => {
    for (const ceilingDb of [-1, -6, -12]) {
      const loud = noise(3, 2 * RATE, 0.7).map((x, i) => x * (i % 9000 < 4000 ? 1 : 0.05) + Math.sin(0.77 * Math.PI * i));
      const peak = createTruePeakMeasure();
      peak.push(through(loud, [[0, only('limiter', { ceilingDb })]]).subarray(RATE / 10));
      expect(20 * Math.log10(peak.result())).toBeLessThanOrEqual(ceilingDb);
      expect(20 * Math.log10(peak.result())).toBeGreaterThan(ceilingDb - 1);
    }
  });
});

describe('a strip', () => {
  it('that is off lets every sample through as it is, before and after', () => {
    fc.assert(
      fc.property(strips, fc.integer(), (strip, seed) => {
        const sound = noise(seed, RATE / 4, 0.1);
        const heard = through(sound, [[0, CLOSED_STRIP], [3000, strip], [6000, CLOSED_STRIP]]);
        expect(heard.subarray(0, 3000)).toEqual(sound.subarray(0, 3000));
        expect(heard.subarray(8000)).toEqual(sound.subarray(8000));
      }),
      { numRuns: 30 },
    );
  });

  it('comes out the same whatever the length of the blocks', () => {
    const voice = noise(5, RATE / 4, 0.1);
    fc.assert(
      fc.property(strips, fc.integer({ min: 1, max: MAX_BLOCK }), (strip, block) => {
        expect(through(voice, [[0, strip]], block)).toEqual(through(voice, [[0, strip]]));
      }),
      { numRuns: 20 },
    );
  });

  it('never steps when anything is changed', () => {
    const [hz, size] = [200, 0.05];
    const tone = sine(hz, 20 * Math.log10(size), 2);
    const steepest = (samples: Float32Array) => samples.reduce((most, x, i) => (i === 0 ? 0 : Math.max(most, Math.abs(x - samples[i - 1]))), 0);
    const largest = (samples: Float32Array) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    fc.assert(
      fc.property(strips, strips, (before, after) => {
        const heard = through(tone, [[0, before], [RATE, after]]);
        const settled = heard.subarray(RATE / 2, RATE);
        const then = heard.subarray(1.5 * RATE);
        const around = heard.subarray(RATE - 100, 1.5 * RATE);
        // A fade of 10 ms from one to the other, and what their own curves are steep by; a gate that opens does so as fast as it was asked to.
        const fade = (largest(around) + largest(settled)) / 480 + (2 * largest(around) * Math.log(10) * 60) / 20 / 48;
        expect(steepest(around)).toBeLessThan(1.1 * Math.max(steepest(settled), steepest(then), steepest(tone) * 10 ** (declaredGainDb(after) / 20)) + fade);
      }),
      { numRuns: 60 },
    );
  });

  it('is as late as it declares', () => {
    const sound = noise(9, RATE, 0.02);
    for (const strip of [only('lowCut', { hz: 40 }), only('limiter'), only('gate', { thresholdDb: -80 })]) {
      const heard = through(sound, [[0, strip]]).subarray(RATE / 2);
      const likeness = (lag: number) => heard.reduce((sum, x, i) => sum + x * sound[RATE / 2 + i - lag], 0);
      const lags = Array.from({ length: 1000 }, (_, lag) => lag);
      expect(lags.reduce((best, lag) => (likeness(lag) > likeness(best) ? lag : best), 0)).toBe(declaredDelay(strip));
    }
  });
});
