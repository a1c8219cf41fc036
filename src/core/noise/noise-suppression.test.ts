import { readFileSync } from 'node:fs';
import makeNoiseLibrary from '@echogarden/rnnoise-wasm';
import { beforeAll, describe, expect, it } from 'vitest';
import { NoiseSuppression, type Suppressor } from '../engine/strip/noise-suppression';
import { setStrip } from '../hearing/edit';
import { createPlan } from '../hearing/plan';
import { syntheticClip } from '../practice/synthetic-voice';
import { createRandom } from '../random';
import { NOISE_DELAY } from '../strip/declared';
import { withInsert } from '../strip/settings';
import { NO_HANDS } from '../takes/plan-log';
import { createRemix, needsSuppressors } from '../takes/remix';
import { voicesFor } from './capacity';
import { createSuppressors } from './suppressors';

let make: () => Suppressor;
beforeAll(async () => {
  make = await createSuppressors(makeNoiseLibrary, new WebAssembly.Module(readFileSync('node_modules/@echogarden/rnnoise-wasm/rnnoise.wasm')));
});

function suppressed(samples: Float32Array, phase = 0): Float32Array {
  const insert = new NoiseSuppression();
  insert.use(make(), phase);
  const out = samples.slice();
  for (let at = 0; at < out.length; at += 128) {
    const left = out.subarray(at, at + 128);
    insert.process({ left, right: left.slice() }, left.length);
  }
  return out;
}

const powerDb = (samples: Float32Array) => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0) / samples.length + 1e-15);

describe('noise suppression', () => {
  it('takes a fan out of the pauses and leaves the voice, as late as it declares', () => {
    const random = createRandom(4);
    const voice = syntheticClip(3, 8);
    const noise = Float32Array.from(voice, () => 0.006 * random.normal());
    const noisy = voice.map((x, i) => x + noise[i]);
    const out = suppressed(noisy);
    // Four seconds tell where it lies.
    const likeness = Array.from({ length: 2000 }, (_, lag) => {
      let sum = 0;
      for (let i = 0; i < 4 * 48_000; i++) sum += voice[i] * out[i + lag];
      return sum;
    });
    const best = likeness.indexOf(Math.max(...likeness));
    expect(Math.abs(best - NOISE_DELAY)).toBeLessThan(4);
    // Quarters of a second in which nobody speaks, and those in which somebody does.
    const quarters = Array.from({ length: 30 }, (_, k) => 12_000 * k).filter((at) => at > 48_000);
    const spoken = (at: number) => powerDb(voice.subarray(at, at + 12_000));
    const pauses = quarters.filter((at) => spoken(at) < -70);
    const words = quarters.filter((at) => spoken(at) > -30);
    for (const at of pauses) expect(powerDb(out.subarray(at + NOISE_DELAY + 2400, at + NOISE_DELAY + 12_000)) - powerDb(noisy.subarray(at + 2400, at + 12_000))).toBeLessThan(-10);
    expect(pauses.length + words.length).toBeGreaterThan(4);
    for (const at of words) expect(Math.abs(powerDb(out.subarray(at + NOISE_DELAY, at + NOISE_DELAY + 12_000)) - spoken(at))).toBeLessThan(3);
  });

  it('gives the same to each voice, whenever its frames are full, and keeps voices apart', () => {
    const voice = syntheticClip(5, 2);
    const [one, other] = [suppressed(voice), suppressed(voice)];
    expect(one).toEqual(other);
    const shifted = suppressed(voice, 256);
    expect(Math.abs(powerDb(shifted) - powerDb(one))).toBeLessThan(0.5);
    expect(suppressed(new Float32Array(9600)).every((x) => Math.abs(x) < 1e-4)).toBe(true);
  });

  it('is had for as many voices as there is time for, and for none where one would be late', () => {
    expect([0.1, 0.3, 0.6, 0.9, 2].map(voicesFor)).toEqual([22, 7, 3, 1, 0]);
  });

  it('is in a mix that is made anew from the tracks, where it was on air', () => {
    const random = createRandom(2);
    const plan = createPlan([{ id: 'maren', name: 'Maren', role: 'host', line: 'practice', reflexive: 'herself' }]);
    const noise = Float32Array.from({ length: 96_000 }, () => 0.004 * random.normal());
    const mixed = (on: boolean): Float32Array => {
      const request = { tracks: [{ recorded: 'voice:maren', channels: 1 as const }], begin: { atSample: 0, plan: setStrip(plan, 'voice:maren', (strip) => withInsert(strip, 'noise', { on })), hands: NO_HANDS }, changes: [] };
      expect(needsSuppressors(request)).toBe(on);
      return createRemix(request, make).process([[noise]], noise.length)[0];
    };
    expect(mixed(false).subarray(480)).toEqual(noise.subarray(480));
    const [made, meant] = [mixed(true).subarray(4800), suppressed(noise).subarray(4800)];
    expect(powerDb(made.map((x, i) => x - meant[i])) - powerDb(noise)).toBeLessThan(-90);
    expect(powerDb(made.map((x, i) => x - noise[4800 + i])) - powerDb(noise)).toBeGreaterThan(-20);
  });
});
