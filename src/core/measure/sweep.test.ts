import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { judgeLevel } from './level-judgement';
import { findSweep, makeSweep } from './sweep';

const RATE = 48000;
const sweep = makeSweep(RATE);

/** Noise of a room, with the sweep in it at a level and after a delay where there is one. */
function recording(noiseDb: number, heard: { levelDb: number; delayMs: number } | null, seed: number): Float32Array {
  const random = createRandom(seed);
  const samples = Float32Array.from({ length: 2 * RATE }, () => 10 ** (noiseDb / 20) * (random.next() * 2 - 1) * Math.sqrt(3));
  if (heard) {
    const at = Math.round((heard.delayMs / 1000) * RATE) + 4800;
    for (let i = 0; i < sweep.samples.length; i++) samples[at + i] += 10 ** (heard.levelDb / 20) * sweep.samples[i];
  }
  return samples;
}

describe('the headphones test', () => {
  it.each([
    { levelDb: -6, delayMs: 12, noiseDb: -50 },
    { levelDb: -25, delayMs: 80, noiseDb: -55 },
    { levelDb: -40, delayMs: 250, noiseDb: -60 },
  ])('finds a sweep $levelDb dB below what was played, after $delayMs ms', ({ levelDb, delayMs, noiseDb }) => {
    const found = findSweep(recording(noiseDb, { levelDb, delayMs }, 3), sweep, 4800);
    expect(found.heard).toBe(true);
    expect(Math.abs(found.levelDb! - levelDb)).toBeLessThan(1);
    expect(Math.abs(found.delayMs! - delayMs)).toBeLessThan(0.1);
  });

  it.each([1, 2, 3, 4, 5, 6])('hears nothing in noise alone (seed %i)', (seed) => {
    expect(findSweep(recording(-40, null, seed), sweep, 4800)).toEqual({ heard: false, levelDb: null, delayMs: null });
  });

  it('hears nothing in silence, nor in a recording that is too short', () => {
    expect(findSweep(new Float32Array(2 * RATE), sweep, 4800).heard).toBe(false);
    expect(findSweep(new Float32Array(100), sweep, 0).heard).toBe(false);
  });
});

describe('the judgement of a level', () => {
  it.each([
    [-80, -90, 'nothing'],
    [-30, -45, 'too-low'],
    [-10, -24, 'good'],
    [-3, -18, 'hot'],
    [0, -12, 'too-loud'],
  ])('peak %f dBFS, speech %f dBFS: %s', (peak, speech, judgement) => expect(judgeLevel(peak, speech)).toBe(judgement));
});
