import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { COMPUTER_SHARE, withComputerShare } from '../hearing/computer-share';
import { FIRST_PLAYERS } from '../hearing/ducking';
import { CUE, PROGRAM, soundsOf, voiceOf } from '../hearing/ids';
import { createPlan, type Seat } from '../hearing/plan';
import { createRandom } from '../random';
import { ShareWatch } from '../echo/share-watch';
import { syntheticClip } from '../practice/synthetic-voice';
import type { PressAgain } from '../sounds/pad-modes';
import { Captures, type Tap } from './captures';
import { createMixSession, type SoundStart } from './mix-session';

const BLOCK = 128;
const seats: Seat[] = [
  { id: 'maren', name: 'Maren', role: 'host', line: 'pair', reflexive: 'herself' },
  { id: 'odalys', name: 'Odalys', role: 'caller', line: 'link', reflexive: 'herself' },
];
const compiled = compilePlan(withComputerShare(createPlan(seats, FIRST_PLAYERS)));
const slot = (id: string) => compiled.sourceIds.findIndex((one) => one === id);
const press = (id: string, change: Partial<SoundStart> = {}): SoundStart => ({ id, gain: 1, again: 'restart', others: [], crossfadeSamples: 0, ...change });

function desk() {
  const played: string[] = [];
  const session = createMixSession({ sources: 16, listeners: 8, maxBlock: BLOCK, onPlayed: (sound) => played.push(sound) });
  session.setPlan(compiled);
  const ones = new Float32Array(48000).fill(0.1);
  for (const [id, player] of [['bell', 'effects'], ['bed', 'bed'], ['other bed', 'bed']]) session.addSound(id, player, { left: ones, right: ones, loop: player === 'bed' });
  const run = (blocks: number) => {
    for (let k = 0; k < blocks; k++) {
      session.fill(BLOCK);
      session.mix(BLOCK);
    }
  };
  const level = (id: string) => session.engine.inputs[slot(id)].left;
  return { session, played, run, level };
}

describe('pads on a desk', () => {
  it('of one gesture start on the same sample, whichever players they belong to', () => {
    const { session, run, level } = desk();
    run(3);
    session.pressSounds([press('bell'), press('bed')]);
    run(1);
    expect(level(soundsOf('effects'))[0]).toBeCloseTo(0.1, 6);
    expect(level(soundsOf('bed'))[0]).toBeCloseTo(0.1, 6);
  });

  it.each<[PressAgain, number]>([
    ['restart', 0.1],
    ['stop', 0],
    ['overlap', 0.2],
  ])('pressed again: %s', (again, after) => {
    const { session, run, level } = desk();
    session.pressSounds([press('bell', { again })]);
    run(10);
    session.pressSounds([press('bell', { again })]);
    run(8);
    expect(level(soundsOf('effects'))[0]).toBeCloseTo(after, 6);
  });

  it('of one group give way to each other slowly; with nothing to replace a sound begins at once', () => {
    const { session, run, level, played } = desk();
    session.pressSounds([press('bed', { others: ['other bed'], crossfadeSamples: 24_000 })]);
    run(1);
    expect(level(soundsOf('bed'))[0]).toBeCloseTo(0.1, 6);
    session.pressSounds([press('other bed', { others: ['bed'], crossfadeSamples: 24_000 })]);
    run(94);
    // Half way each has 0.707 of its level: for sounds that have nothing to do with each other that is the same power.
    expect(level(soundsOf('bed'))[0]).toBeCloseTo(0.1 * Math.SQRT2, 2);
    run(110);
    expect(session.soundPosition('bed')).toBe(-1);
    expect(session.soundPosition('other bed')).toBeGreaterThan(0);
    expect(played).toEqual(['bed']);
  });

  it('listened to first are in nobody’s track, log or mix but the host’s phones', () => {
    const { session, run, level, played } = desk();
    session.cueSound('bell', 1);
    run(10);
    expect(level(CUE)[0]).toBeCloseTo(0.1, 6);
    expect(level(soundsOf('effects'))[0]).toBe(0);
    expect(session.engine.outputs[compiled.listenerIds.indexOf(PROGRAM)].left[0]).toBe(0);
    expect(session.engine.outputs[compiled.listenerIds.indexOf('phones:maren')].left[0]).toBeCloseTo(0.1, 6);
    session.cueSound(null, 0);
    run(10);
    expect(session.cuePosition()).toBe(-1);
    session.reportPlaying();
    expect(played).toEqual([]);
  });
});

describe('what the loop guard is given', () => {
  it('is enough to find a share that contains the call, and nothing of a clean one', () => {
    const speech = syntheticClip(4, 3);
    const random = createRandom(8);
    for (const contains of [true, false]) {
      const { session } = desk();
      const watch = new ShareWatch();
      const block = new Float32Array(3 * BLOCK);
      const captures = new Captures();
      const taps: Tap[] = [{ of: 'source', slot: slot(COMPUTER_SHARE), channels: 2 }, { of: 'others', slot: slot(COMPUTER_SHARE), channels: 1 }];
      captures.start('guard', taps, { next: () => block, commit: () => watch.take(block), close: () => undefined });
      let found = null;
      for (let at = 0; at < 3 * 48000; at += BLOCK) {
        session.fill(BLOCK);
        for (let i = 0; i < BLOCK; i++) {
          const own = 0.05 * random.normal();
          session.engine.inputs[slot(voiceOf('odalys'))].left[i] = speech[at + i];
          session.engine.inputs[slot(COMPUTER_SHARE)].left[i] = own + (contains ? 0.5 * (speech[at + i - 5760] ?? 0) : 0);
        }
        session.mix(BLOCK);
        captures.take(session.engine, at, BLOCK);
        if (at % (94 * BLOCK) === 0) found ??= watch.look();
      }
      if (contains) expect(Math.abs(found!.delayMs - 120)).toBeLessThan(1);
      else expect(found).toBeNull();
    }
  });
});
