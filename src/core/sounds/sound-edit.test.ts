import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createSoundPlayer } from '../engine/sound-player';
import { applyEdit, fitEdit, nearestZeroCrossing, SHORTEST_SAMPLES, wholeSound, type SoundEdit } from './sound-edit';

const sine = (length: number, period: number) => Float32Array.from({ length }, (_, i) => 0.5 * Math.sin((2 * Math.PI * i) / period));

describe('an edit', () => {
  it('always fits its sound, and one that fits is left as it is', () => {
    const sample = fc.integer({ min: -1000, max: 200_000 });
    const edit = fc.record({
      inSample: sample,
      outSample: sample,
      fadeInSamples: sample,
      fadeOutSamples: sample,
      loop: fc.option(fc.record({ from: sample, to: sample })),
    });
    fc.assert(
      fc.property(edit, fc.integer({ min: SHORTEST_SAMPLES, max: 150_000 }), (wanted: SoundEdit, length) => {
        const fit = fitEdit(wanted, length);
        expect(fit.inSample).toBeGreaterThanOrEqual(0);
        expect(fit.outSample).toBeLessThanOrEqual(length);
        expect(fit.outSample - fit.inSample).toBeGreaterThanOrEqual(SHORTEST_SAMPLES);
        expect(fit.fadeInSamples + fit.fadeOutSamples).toBeLessThanOrEqual(fit.outSample - fit.inSample);
        if (fit.loop) {
          expect(fit.loop.from).toBeGreaterThanOrEqual(fit.inSample);
          expect(fit.loop.to).toBeLessThanOrEqual(fit.outSample);
          expect(fit.loop.to - fit.loop.from).toBeGreaterThanOrEqual(SHORTEST_SAMPLES);
        }
        expect(fitEdit(fit, length)).toEqual(fit);
      }),
    );
  });

  it('leaves the sound itself alone', () => {
    const sound = sine(9600, 100);
    const before = sound.slice();
    applyEdit([sound], { ...wholeSound(9600), fadeOutSamples: 2000, loop: { from: 2000, to: 5000 } }, true);
    expect(sound).toEqual(before);
  });

  it('fades its end to nothing', () => {
    const { left } = applyEdit([new Float32Array(4800).fill(1)], { ...wholeSound(4800), outSample: 2400, fadeOutSamples: 1200 }, false);
    expect(left.length).toBe(2400);
    expect(left[1100]).toBe(1);
    expect(left[1800]).toBeCloseTo(Math.SQRT1_2, 2);
    expect(left[2399]).toBe(0);
  });
});

describe('a loop', () => {
  it('goes round below −80 dB of error', () => {
    const period = 97;
    // Begins and ends in the middle of a sound, a whole number of periods apart.
    const sound = sine(48000, period);
    const clip = applyEdit([sound], { ...wholeSound(48000), loop: { from: 10_000, to: 10_000 + 200 * period } }, true);
    const player = createSoundPlayer();
    player.start('bed', clip, 1);
    const out = { left: new Float32Array(90_000), right: new Float32Array(90_000) };
    player.fill(out, 90_000, 0);
    let worst = 0;
    for (let i = 0; i < 90_000; i++) worst = Math.max(worst, Math.abs(out.left[i] - 0.5 * Math.sin((2 * Math.PI * i) / period)));
    expect(20 * Math.log10(worst / 0.5)).toBeLessThan(-80);
  });

  it('has no step at its seam, wherever its points lie', () => {
    fc.assert(
      fc.property(fc.integer({ min: 600, max: 8000 }), fc.integer({ min: 1000, max: 20_000 }), (from, length) => {
        const sound = sine(48000, 193);
        const clip = applyEdit([sound], { ...wholeSound(48000), loop: { from, to: from + length } }, true);
        const step = Math.abs(clip.left[clip.loopTo! - 1] - clip.left[clip.loopFrom!]);
        expect(step).toBeLessThan((0.5 * 2 * Math.PI) / 193 + 1e-6);
      }),
      { numRuns: 30 },
    );
  });
});

describe('a zero crossing', () => {
  it('is the nearest within reach, and otherwise the place itself', () => {
    const sound = Float32Array.from({ length: 1000 }, (_, i) => Math.sin((2 * Math.PI * (i + 0.5)) / 100));
    expect(nearestZeroCrossing([sound], 130, 60)).toBe(100);
    expect(nearestZeroCrossing([sound], 160, 60)).toBe(200);
    expect(nearestZeroCrossing([sound], 150, 10)).toBe(150);
    expect(nearestZeroCrossing([new Float32Array(500)], 70, 500)).toBe(70);
  });
});
