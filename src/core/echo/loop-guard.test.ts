import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { syntheticClip } from '../practice/synthetic-voice';
import { GUARD_RATE, GUARD_WINDOW, LoopGuard, type LoopFound } from './loop-guard';

/** Every sixth sample of a phrase, repeated with pauses to a length: good enough for what the guard hears. */
function talk(seed: number, seconds: number): Float32Array {
  const phrase = syntheticClip(seed, 2.2).filter((_, i) => i % 6 === 0);
  return Float32Array.from({ length: seconds * GUARD_RATE }, (_, i) => phrase[i % (phrase.length + 2000)] ?? 0);
}

/** Looks every quarter of a second; returns when the loop was found, s, and what was found. */
function watch(share: Float32Array, call: Float32Array): { seconds: number; found: LoopFound } | null {
  const guard = new LoopGuard();
  for (let end = GUARD_RATE / 4; end <= share.length; end += GUARD_RATE / 4) {
    const last = (samples: Float32Array, count: number) => {
      const window = new Float32Array(count);
      const from = Math.max(0, end - count);
      window.set(samples.subarray(from, end), count - (end - from));
      return window;
    };
    const found = guard.check(last(share, GUARD_WINDOW), last(call, 2 * GUARD_WINDOW));
    if (found) return { seconds: end / GUARD_RATE, found };
  }
  return null;
}

/** Chords that change with the beat and fade, with a click on each. */
function chords(seed: number, seconds: number): Float32Array {
  const random = createRandom(seed);
  const out = new Float32Array(seconds * GUARD_RATE);
  const [root, beat] = [random.between(80, 200), Math.round(random.between(0.3, 0.6) * GUARD_RATE)];
  for (let from = 0; from < out.length; from += beat) {
    const notes = [1, 5 / 4, 3 / 2, 2].map((ratio) => ratio * root * 2 ** (Math.floor(random.between(0, 5)) / 12));
    for (let i = 0; i < beat && from + i < out.length; i++) {
      for (const hz of notes) for (const partial of [1, 2, 3, 4]) out[from + i] += (0.06 / partial) * Math.sin((2 * Math.PI * hz * partial * i) / GUARD_RATE) * Math.exp(-i / (0.7 * beat));
      if (i < 700) out[from + i] += 0.1 * random.normal() * Math.exp(-i / 130);
    }
  }
  return out;
}

const delayed = (samples: Float32Array, delay: number, gain: number) => samples.map((_, i) => gain * (samples[i - delay] ?? 0));
const sum = (a: Float32Array, b: Float32Array) => a.map((x, i) => x + b[i]);

describe('the loop guard', () => {
  it.each([
    { ms: 40, db: 0 },
    { ms: 180, db: -6 },
    { ms: 620, db: -12 },
  ])('finds the call in what is shared within two seconds: $ms ms late, $db dB', ({ ms, db }) => {
    for (const seed of [1, 2, 3, 4]) {
      const call = talk(seed, 4);
      const own = talk(seed + 100, 4).map((x) => 0.7 * x);
      const share = sum(own, delayed(call, (ms * GUARD_RATE) / 1000, 10 ** (db / 20)));
      const seen = watch(share, call);
      expect(seen, `seed ${seed}`).not.toBeNull();
      expect(seen!.seconds).toBeLessThanOrEqual(2);
      expect(Math.abs(seen!.found.delayMs - ms)).toBeLessThan(1);
      expect(Math.abs(seen!.found.gainDb - db)).toBeLessThan(3);
    }
  });

  it('raises no false alarm on other speech, music, noise or silence', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const call = talk(seed, 8);
      const random = createRandom(seed);
      const music = Float32Array.from({ length: 8 * GUARD_RATE }, (_, i) => 0.2 * [261.6, 329.6, 392, 523.3].reduce((sound, hz, k) => sound + Math.sin((2 * Math.PI * hz * (1 + (Math.floor(i / 4000) % 3) / 8) * i) / GUARD_RATE + k), 0) * ((i % 4000) / 4000));
      const noise = Float32Array.from({ length: 8 * GUARD_RATE }, () => random.between(-0.1, 0.1));
      for (const share of [talk(seed + 50, 8), music, noise, new Float32Array(8 * GUARD_RATE)]) expect(watch(share, call)).toBeNull();
      // The same music shared and in nobody's call.
      expect(watch(music, new Float32Array(8 * GUARD_RATE))).toBeNull();
    }
  });

  it('raises none in minutes of chords under voices that hold a note', () => {
    for (let seed = 1; seed <= 8; seed++) expect(watch(chords(seed, 20), sum(talk(seed, 20), talk(seed + 70, 20).map((x) => 0.5 * x))), `seed ${seed}`).toBeNull();
  });

  it('does not take a guest’s echo of the share for a loop', () => {
    const share = talk(9, 6);
    const call = sum(talk(10, 6), delayed(share, 1600, 0.3));
    expect(watch(share, call)).toBeNull();
  });
});
