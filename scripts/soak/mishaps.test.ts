import { expect, test } from 'vitest';
import { createRandom } from '../../src/core/random';
import type { FarGuest } from './far-guests';
import type { Gap } from './judge';
import { nextMishap, spoilt, unexplained, type Happened } from './mishaps';

const guests = [{ name: 'Runa', mishaps: ['reload'] }, { name: 'Ilyas', mishaps: ['plug-out', 'plug-in'] }] as unknown as FarGuest[];
const TRACKS = [{ recorded: 'voice:runa', name: 'Runa Velde' }, { recorded: 'voice:ilyas', name: 'Ilyas Corm' }];
const runaWasAway: Happened = { guest: 'Runa', mishap: 'reload', seconds: 3, atMs: 100_000, backMs: 108_000, words: null };

function gap(over: Partial<Gap> & { fromMs: number; toMs: number }): Gap {
  const { fromMs, toMs, ...rest } = over;
  return { recorded: 'voice:runa', cause: 'line-lost', atSample: 48 * fromMs, lengthSamples: 48 * (toMs - fromMs), ...rest };
}

const never = () => false;

test('a seed says what happens to whom and when, and to each only what can', () => {
  const plan = (seed: number) => {
    const random = createRandom(seed);
    const all = [nextMishap(random, guests)];
    while (all.length < 60) all.push(nextMishap(random, guests, all.at(-1)!.atMs));
    return all;
  };
  expect(plan(5)).toEqual(plan(5));
  expect(plan(5)).not.toEqual(plan(6));
  let before = 0;
  for (const { atMs, far, mishap } of plan(7)) {
    expect(far!.mishaps).toContain(mishap);
    expect(atMs).toBeGreaterThan(before);
    before = atMs;
  }
  expect(new Set(plan(7).map(({ far }) => far))).toEqual(new Set(guests));
});

test('only the gaps of whoever suffered something, about that time, are explained by it', () => {
  const explained = gap({ fromMs: 101_000, toMs: 107_000 });
  const others = gap({ recorded: 'voice:ilyas', fromMs: 101_000, toMs: 107_000 });
  const later = gap({ fromMs: 160_000, toMs: 161_000 });
  const tooLong = gap({ fromMs: 101_000, toMs: 140_000 });
  expect(unexplained([explained, others, later, tooLong], [runaWasAway], never, TRACKS)).toEqual([others, later, tooLong]);
});

test('a machine that stood still explains what came late from a device, and no lost line', () => {
  const late = gap({ cause: 'device-late', fromMs: 5000, toMs: 5100 });
  const lost = gap({ fromMs: 5000, toMs: 5100 });
  expect(unexplained([late, lost], [], (atMs) => atMs === 5000, TRACKS)).toEqual([lost]);
  expect(unexplained([late], [], never, TRACKS)).toEqual([late]);
});

test('a track is not judged where its owner was away, and everywhere else', () => {
  const [one, ...more] = spoilt([runaWasAway], 'Runa Velde', 'voice:runa');
  expect(more).toEqual([]);
  const [from, to] = [one.atSample / 48, (one.atSample + one.lengthSamples) / 48];
  expect(from).toBeLessThan(runaWasAway.atMs);
  expect(to).toBeGreaterThan(runaWasAway.backMs);
  expect(to - from).toBeLessThan(60_000);
  expect(spoilt([runaWasAway], 'Ilyas Corm', 'voice:ilyas')).toEqual([]);
});
