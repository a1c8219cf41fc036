import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toStereo } from './downmix';
import { measureSound } from './measure-sound';
import { CEILING_DBTP, KIND_LUFS, levellingGainDb, SOUND_KINDS } from './sound-kind';

const sine = (seconds: number, db: number) => Float32Array.from({ length: Math.round(seconds * 48000) }, (_, i) => 10 ** (db / 20) * Math.sin((2 * Math.PI * 997 * i) / 48000));

describe('levelling a sound', () => {
  it('brings it to the level of its kind and never above the ceiling, whatever it is', () => {
    fc.assert(
      fc.property(fc.constantFrom(...SOUND_KINDS), fc.double({ min: -60, max: 0, noNaN: true }), fc.double({ min: 0, max: 20, noNaN: true }), (kind, lufs, crest) => {
        const peak = lufs + crest;
        const gain = levellingGainDb(KIND_LUFS[kind], CEILING_DBTP, lufs, peak);
        expect(peak + gain).toBeLessThanOrEqual(Math.max(CEILING_DBTP, peak - 30) + 1e-9);
        expect(lufs + gain).toBeLessThanOrEqual(KIND_LUFS[kind] + 1e-9 + Math.max(0, lufs - 30 - KIND_LUFS[kind]));
        const held = peak + gain > CEILING_DBTP - 0.2 || Math.abs(gain) >= 30;
        if (!held) expect(Math.abs(lufs + gain - KIND_LUFS[kind])).toBeLessThanOrEqual(0.11);
      }),
    );
  });
  it('leaves silence alone', () => expect(levellingGainDb(-20, -1, -Infinity, -Infinity)).toBe(0));
});

describe('measuring a sound', () => {
  it('finds its length, its silences, its loudness and its peak', () => {
    const sound = new Float32Array([...new Float32Array(24000), ...sine(4, -20), ...new Float32Array(12000)]);
    const measures = measureSound([sound, sound]);
    expect(measures.lengthSamples).toBe(sound.length);
    expect(Math.abs(measures.headSilenceSamples - 24000)).toBeLessThan(10);
    expect(Math.abs(measures.tailSilenceSamples - 12000)).toBeLessThan(10);
    // The blocks that lie half in silence pull it down a little.
    expect(Math.abs(measures.integratedLufs + 20)).toBeLessThan(0.3);
    expect(measures.truePeakDb).toBeCloseTo(-20, 0);
  });
  it('can be broken off', () => expect(() => measureSound([sine(3, -20)], (share) => share < 0.5)).toThrow('cancelled'));
});

describe('more than two channels', () => {
  const one = (value: number) => Float32Array.of(value);
  it('are folded so that centre and surround are heard on both sides, and the low-frequency channel is not', () => {
    const [left, right] = toStereo([one(0.1), one(0.2), one(0.3), one(0.9), one(0.4), one(0.5)]);
    expect(left[0]).toBeCloseTo(0.1 + Math.SQRT1_2 * 0.7, 6);
    expect(right[0]).toBeCloseTo(0.2 + Math.SQRT1_2 * 0.8, 6);
    expect(toStereo([one(0.5)])).toHaveLength(1);
    expect(toStereo([one(1), one(2), one(3)]).map(([x]) => x)).toEqual([1, 2]);
  });
});
