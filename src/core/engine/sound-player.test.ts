import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { createSoundPlayer, type SoundClip } from './sound-player';

const clip = (length: number, loop = false): SoundClip => {
  const samples = new Float32Array(length).fill(0.5);
  return { left: samples, right: samples, loop };
};
const block = (length: number) => ({ left: new Float32Array(length), right: new Float32Array(length) });

describe('a sound player', () => {
  it('starts two sounds of one gesture on the same sample', () => {
    const player = createSoundPlayer();
    player.start('bell', clip(100), 1);
    player.start('sting', clip(50), 0.5);
    const out = block(128);
    player.fill(out, 128, 0);
    expect(out.left[0]).toBeCloseTo(0.75);
    expect(out.left[49]).toBeCloseTo(0.75);
    expect(out.left[50]).toBeCloseTo(0.5);
    expect(out.left[100]).toBe(0);
  });

  it('stops within 10 ms and without a step', () => {
    const player = createSoundPlayer();
    player.start('bed', clip(48000, true), 1);
    const out = block(1024);
    player.fill(out, 128, 0);
    player.stopAll();
    let before = out.left[127];
    player.fill(out, 1024, 0);
    for (const sample of out.left) {
      // The steepest step of a quarter of a sine.
      expect(Math.abs(sample - before)).toBeLessThan((0.5 * Math.PI) / 2 / 480 + 1e-6);
      before = sample;
    }
    expect([...out.left.subarray(480)].every((sample) => sample === 0)).toBe(true);
    expect(player.positionOf('bed')).toBe(-1);
  });

  it('joins a loop’s end to its beginning without losing a sample', () => {
    const player = createSoundPlayer();
    const samples = Float32Array.from({ length: 100 }, (_, k) => k);
    player.start('bed', { left: samples, right: samples, loop: true }, 1);
    const out = block(250);
    player.fill(out, 250, 0);
    expect([...out.left]).toEqual(Array.from({ length: 250 }, (_, k) => k % 100));
  });

  it('moves a level while the sound plays, within the block', () => {
    const player = createSoundPlayer();
    player.start('bed', clip(4800), 1);
    const out = block(128);
    player.setGain('bed', 0);
    player.fill(out, 128, 0);
    expect(out.left[0]).toBeCloseTo(0.5);
    expect(out.left[127]).toBeLessThan(0.01);
  });

  it('keeps its power while one sound fades into another', () => {
    const random = createRandom(5);
    const noise = (): SoundClip => {
      const samples = Float32Array.from({ length: 96000 }, () => random.between(-0.5, 0.5));
      return { left: samples, right: samples, loop: true };
    };
    const player = createSoundPlayer();
    const fade = 24000;
    player.start('one', noise(), 1);
    const power: number[] = [];
    const out = block(2400);
    const run = (blocks: number) => {
      for (let k = 0; k < blocks; k++) {
        player.fill(out, 2400, 0);
        power.push(10 * Math.log10(out.left.reduce((sum, x) => sum + x * x, 0) / 2400));
      }
    };
    run(4);
    player.stop('one', fade);
    player.start('two', noise(), 1, fade);
    run(14);
    for (const db of power) expect(Math.abs(db - power[0])).toBeLessThan(1);
  });

  it('never steps, whatever is pressed in whatever order', () => {
    const hand = fc.oneof(
      fc.record({ does: fc.constant('stop' as const), fade: fc.integer({ min: 480, max: 9600 }) }),
      fc.record({ does: fc.constant('under' as const), fade: fc.integer({ min: 480, max: 9600 }) }),
      fc.record({ does: fc.constant('wait' as const), fade: fc.integer({ min: 1, max: 9600 }) }),
    );
    // A quarter of a sine and 14 dB evenly in dB, both in 10 ms and at the same time.
    const steepest = (0.5 * (Math.PI / 2 + Math.log(10 ** (14 / 20)))) / 480 + 1e-5;
    fc.assert(
      fc.property(fc.array(hand, { maxLength: 12 }), fc.integer({ min: 0, max: 4800 }), (hands, fadeIn) => {
        const player = createSoundPlayer();
        player.start('bed', clip(480, true), 1, fadeIn);
        const out = block(128);
        let before = fadeIn > 0 ? 0 : 0.5;
        const run = () => {
          player.fill(out, 128, 0);
          for (const sample of out.left) {
            expect(Math.abs(sample - before)).toBeLessThan(steepest);
            before = sample;
          }
        };
        if (fadeIn > 0 && fadeIn < 480) return;
        run();
        for (const { does, fade } of hands) {
          if (does === 'stop') player.stop('bed', fade);
          if (does === 'under') player.takeUnder('bed', { underDb: -14, underSamples: fade, holdSamples: fade, outSamples: fade });
          for (let k = 0; k < (does === 'wait' ? fade / 128 : 1); k++) run();
        }
      }),
      { numRuns: 40 },
    );
  });

  it('goes under the talk, stays there, and out; a second press takes it out at once', () => {
    const player = createSoundPlayer();
    const move = { underDb: -14, underSamples: 4800, holdSamples: 9600, outSamples: 4800 };
    player.start('theme', clip(96000), 1);
    player.takeUnder('theme', move);
    const out = block(480);
    const levels = Array.from({ length: 45 }, () => {
      player.fill(out, 480, 0);
      return 20 * Math.log10(out.left[479] / 0.5);
    });
    expect(levels[4]).toBeCloseTo(-7, 1);
    for (const db of levels.slice(10, 29)) expect(db).toBeCloseTo(-14, 1);
    expect(levels[35]).toBeLessThan(-15);
    expect(levels[41]).toBe(-Infinity);
    player.start('theme', clip(96000), 1);
    player.takeUnder('theme', move);
    player.fill(out, 480, 0);
    player.takeUnder('theme', move);
    for (let k = 0; k < 10; k++) player.fill(out, 480, 0);
    player.fill(out, 480, 0);
    expect(out.left.every((sample) => sample === 0)).toBe(true);
  });

  it('reports what was played: since when, for how long and how loud', () => {
    const told: unknown[][] = [];
    const player = createSoundPlayer((...played) => told.push(played));
    player.start('bell', clip(1000), 0.5);
    const out = block(480);
    for (let k = 0; k < 4; k++) player.fill(out, 480, 9600 + k * 480);
    expect(told).toEqual([['bell', 9600, 1000, 0.25, expect.closeTo(2 * 1000 * 0.0625, 3)]]);
    // A take that ends hears of what plays, once.
    player.start('bed', clip(480, true), 1);
    player.fill(out, 480, 0);
    player.report(480);
    expect(told[1].slice(0, 3)).toEqual(['bed', 0, 480]);
    player.stopAll();
    player.fill(out, 480, 480);
    player.fill(out, 480, 960);
    expect(told[2].slice(0, 3)).toEqual(['bed', 480, 480]);
    expect(told).toHaveLength(3);
  });
});
