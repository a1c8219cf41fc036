import { describe, expect, it } from 'vitest';
import { measureWith } from '../src/core/practice/simulated-check';
import { syntheticClip } from '../src/core/practice/synthetic-voice';
import { createRandom } from '../src/core/random';
import { opusLine } from './opus-line';
import { recordedSpeech } from './recorded-voices';
import { judgeSimulated, someFaults } from './put-faults';

/** A quiet room, dBFS. */
const ROOM_DB = -75;
const SEEDS = Number(process.env.CHECK_SEEDS ?? 4);
const line = opusLine({ kbps: 96, loss: 0.02, jumpsPerSecond: 0.2 });
const most = (values: readonly number[]): number => Math.max(0, ...values.map(Math.abs));
const usual = (values: readonly number[]): number => values.map(Math.abs).sort((a, b) => a - b)[Math.floor(values.length * 0.9)] ?? 0;

/** Several voices, made-up and recorded, one after another: a way is judged by what it does to any of them. */
const voices = (): Float32Array => {
  const all = new Float32Array(16 * 48_000);
  for (let k = 0; k < 4; k++) {
    all.set(syntheticClip(40 + k, 2), 2 * k * 96_000);
    all.set(recordedSpeech(k, 2, 3), (2 * k + 1) * 96_000);
  }
  return all;
};

describe('a line check of simulated calls, through the true coder with lost packets and jumps', () => {
  it('names every fault down to −45 dB with its person, imagines none, and is right in dB and ms', () => {
    measureWith(voices());
    const levels: number[] = [];
    for (let seed = 1; seed <= SEEDS; seed++) {
      const callers = 2 + createRandom(seed).index(11);
      const { missed, imagined, levelsOff, delaysOff, engineOff, farOff } = judgeSimulated({ callers, seed, faults: someFaults(callers, 4, seed), line, roomDb: ROOM_DB });
      expect({ seed, missed, imagined }).toEqual({ seed, missed: [], imagined: [] });
      expect(usual(delaysOff), `delays of seed ${seed}`).toBeLessThan(1);
      expect(most(engineOff), `the engine of seed ${seed}`).toBeLessThan(0.05);
      expect(usual(farOff), `the far ends of seed ${seed}`).toBeLessThan(1);
      levels.push(...levelsOff);
    }
    expect(usual(levels), 'levels of ways back').toBeLessThan(2);
  });

  it('finds a weak way back beside a strong one by looking once more without the strong one', () => {
    measureWith(voices());
    const strong = { from: 'return:caller-1', to: 'voice:caller-2', gainDb: -6, delayMs: 40, throughRoom: true } as const;
    const weak = { from: 'return:caller-2', to: 'voice:caller-2', gainDb: -43, delayMs: 90, throughRoom: true } as const;
    const { missed, imagined, check } = judgeSimulated({ callers: 3, seed: 21, faults: { ways: [strong, weak] }, line, roomDb: ROOM_DB });
    expect([missed, imagined, check.found.passes]).toEqual([[], [], 2]);
  });

  it('while somebody talks says what it cannot tell of them, and still finds what is loud', () => {
    measureWith(voices());
    const loud = { from: 'return:caller-1', to: 'voice:caller-1', gainDb: -18, delayMs: 60, throughRoom: true } as const;
    const { missed, imagined, check } = judgeSimulated({ callers: 4, seed: 31, faults: { ways: [loud] }, line, roomDb: ROOM_DB, talk: (caller, samples) => (caller <= 2 && caller > 0 ? syntheticClip(caller, 6).subarray(0, samples) : null) });
    expect([missed, imagined]).toEqual([[], []]);
    const floor = (who: string) => check.found.inputs.find(({ source }) => source === who)!.floorDb!;
    expect(floor('voice:caller-2')).toBeGreaterThan(-40);
    expect(floor('voice:caller-3')).toBeLessThan(-60);
  });
});
