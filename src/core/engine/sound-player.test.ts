import { describe, expect, it } from 'vitest';
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
    player.fill(out, 128);
    expect(out.left[0]).toBeCloseTo(0.75);
    expect(out.left[49]).toBeCloseTo(0.75);
    expect(out.left[50]).toBeCloseTo(0.5);
    expect(out.left[100]).toBe(0);
  });

  it('stops within 10 ms and without a step', () => {
    const player = createSoundPlayer();
    player.start('bed', clip(48000, true), 1);
    const out = block(1024);
    player.fill(out, 128);
    player.stopAll();
    let before = out.left[127];
    player.fill(out, 1024);
    for (const sample of out.left) {
      expect(Math.abs(sample - before)).toBeLessThan(0.5 / 480 + 1e-6);
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
    player.fill(out, 250);
    expect([...out.left]).toEqual(Array.from({ length: 250 }, (_, k) => k % 100));
  });

  it('starts over when pressed again, fading what was playing', () => {
    const player = createSoundPlayer();
    player.start('theme', clip(4800), 1);
    const out = block(480);
    player.fill(out, 480);
    player.start('theme', clip(4800), 1);
    player.fill(out, 480);
    expect(out.left[0]).toBeCloseTo(1);
    expect(out.left[479]).toBeCloseTo(0.5, 2);
    expect(player.positionOf('theme')).toBe(480);
  });

  it('moves a level while the sound plays, within the block', () => {
    const player = createSoundPlayer();
    player.start('bed', clip(4800), 1);
    const out = block(128);
    player.setGain('bed', 0);
    player.fill(out, 128);
    expect(out.left[0]).toBeCloseTo(0.5);
    expect(out.left[127]).toBeLessThan(0.01);
  });
});
