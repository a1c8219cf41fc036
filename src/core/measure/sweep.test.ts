import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { syntheticClip } from '../practice/synthetic-voice';
import { judgeLevel } from './level-judgement';
import { findSweep, provingSound } from './find-sweep';
import { makeSweep } from './sweep';

const RATE = 48000;
const sweep = makeSweep(RATE);

/** Noise of a room, with what was played in it at a level and after a delay where there is some. */
function recording(noiseDb: number, heard: { levelDb: number; delayMs: number } | null, seed: number): Float32Array {
  const random = createRandom(seed);
  const samples = Float32Array.from({ length: 3.2 * RATE }, () => 10 ** (noiseDb / 20) * (random.next() * 2 - 1) * Math.sqrt(3));
  if (heard) provingSound(sweep).samples.forEach((x, i) => (samples[Math.round((heard.delayMs / 1000) * RATE) + i] += 10 ** (heard.levelDb / 20) * x));
  return samples;
}

/** The same with somebody who talks meanwhile. */
function talkedOver(heard: { levelDb: number; delayMs: number } | null, seed: number): Float32Array {
  const talk = syntheticClip(seed, 3.2);
  return recording(-60, heard, seed).map((x, i) => x + 0.5 * (talk[i] ?? 0));
}

describe('the headphones test', () => {
  it.each([
    { levelDb: -6, delayMs: 12, noiseDb: -50 },
    { levelDb: -25, delayMs: 80, noiseDb: -55 },
    { levelDb: -40, delayMs: 250, noiseDb: -60 },
  ])('finds a sweep $levelDb dB below what was played, after $delayMs ms', ({ levelDb, delayMs, noiseDb }) => {
    const found = findSweep(recording(noiseDb, { levelDb, delayMs }, 3), sweep)!;
    expect(Math.abs(found.gainDb - levelDb)).toBeLessThan(1);
    expect(Math.abs((1000 * found.at) / RATE - delayMs)).toBeLessThan(0.1);
  });

  it.each([1, 2, 3, 4, 5, 6])('hears nothing in noise alone (seed %i)', (seed) => {
    expect(findSweep(recording(-40, null, seed), sweep)).toBeNull();
  });

  it('takes nobody who talks meanwhile for the sweep, and finds it under them', () => {
    for (let seed = 1; seed <= 12; seed++) {
      expect(findSweep(talkedOver(null, seed), sweep), `talker ${seed}`).toBeNull();
      expect(findSweep(talkedOver({ levelDb: -15, delayMs: 90 }, seed), sweep), `leak under talker ${seed}`).not.toBeNull();
    }
  });

  it('hears nothing in silence, nor in a recording that is too short', () => {
    expect(findSweep(new Float32Array(3 * RATE), sweep)).toBeNull();
    expect(findSweep(new Float32Array(100), sweep)).toBeNull();
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
