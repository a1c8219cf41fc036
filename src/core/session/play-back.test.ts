import { describe, expect, it } from 'vitest';
import { compilePlan } from '../hearing/compile';
import { phonesOf, returnOf, voiceOf, type ListenerId } from '../hearing/ids';
import { createPlan, type Seat } from '../hearing/plan';
import { createMixSession } from './mix-session';
import { Captures } from './captures';
import { createPlayBack, TEST_CALL } from './play-back';

const RATE = 48000;
const BLOCK = 128;
const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'link', reflexive: 'themselves' });
const compiled = compilePlan(createPlan([seat('maren', 'host'), seat('odalys', 'caller'), seat('runa', 'caller')], []));
const source = (id: string) => compiled.sourceIds.indexOf(voiceOf(id));
const listener = (id: ListenerId) => compiled.listenerIds.indexOf(id);
const at = (seconds: number) => Math.round(seconds * RATE);
/** A voice that is somewhere else at every sample. */
const VOICES = { maren: 0.1, odalys: 0.07, runa: 0.05 };
const said = (id: keyof typeof VOICES, clock: number) => Math.fround(VOICES[id] * Math.sin(clock * VOICES[id] + clock * clock * 1e-7));

/** Runs a test call and says what some listeners were given over its whole length. */
function call(tapOf: { of: 'source' | 'listener'; slot: number }, heardBy: { of: 'source' | 'listener'; slot: number }, listeners: number[]) {
  const session = createMixSession({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: BLOCK });
  session.setPlan(compiled, 0);
  const captures = new Captures();
  const heard = listeners.map(() => new Float32Array(at(TEST_CALL.playUntil)));
  const step = (from: number) => {
    session.fill(BLOCK);
    const clock = session.engine.clock();
    for (const id of ['maren', 'odalys', 'runa'] as const) {
      const { left, right } = session.engine.inputs[source(id)];
      for (let i = 0; i < BLOCK; i++) left[i] = right[i] = said(id, clock + i);
    }
    session.mix(BLOCK);
    captures.take(session.engine, clock, BLOCK);
    heard.forEach((one, k) => from >= 0 && one.set(session.engine.outputs[listeners[k]].left.subarray(0, Math.min(BLOCK, one.length - from)), from));
  };
  for (let k = 0; k < 10; k++) step(-1);
  const begins = session.engine.clock();
  const { probe, samples, sink } = createPlayBack(heardBy, begins, BLOCK, RATE);
  captures.start('test call', [{ ...tapOf, channels: 2 }], sink);
  session.engine.probe([probe], samples);
  for (let from = 0; from < samples; from += BLOCK) step(from);
  return { begins, heard };
}

const LATER = at(TEST_CALL.playFrom) - at(TEST_CALL.speakFrom);

describe('a test call', () => {
  it('gives a guest who waits their own voice back, sample by sample, and nobody else', () => {
    const own = listener(returnOf('odalys'));
    const host = listener(phonesOf('maren'));
    const { begins, heard } = call({ of: 'source', slot: source('odalys') }, { of: 'listener', slot: own }, [own, host]);
    const others = (clock: number) => said('maren', clock) + said('runa', clock);
    for (const seconds of [7.5, 9, 13]) {
      const place = at(seconds);
      expect(heard[0][place]).toBeCloseTo(others(begins + place) + said('odalys', begins + place - LATER), 5);
      expect(heard[1][place]).toBeCloseTo(said('odalys', begins + place) + said('runa', begins + place), 5);
    }
    // What they say is silent to them while they say it.
    expect(heard[0][at(3)]).toBeCloseTo(others(begins + at(3)), 5);
    expect(Math.max(...heard[0].subarray(at(0.1), at(0.4)).map((x, i) => x - others(begins + at(0.1) + i)))).toBeGreaterThan(0.02);
  });

  it('on a practice line brings into the call what that line was sent: everybody but its owner', () => {
    const host = listener(phonesOf('maren'));
    const { begins, heard } = call({ of: 'listener', slot: listener(returnOf('odalys')) }, { of: 'source', slot: source('odalys') }, [host]);
    for (const seconds of [7.5, 9, 13]) {
      const place = at(seconds);
      const then = begins + place - LATER;
      expect(heard[0][place]).toBeCloseTo(said('runa', begins + place) + said('maren', then) + said('runa', then), 5);
    }
    // Its own voice is away meanwhile.
    expect(heard[0][at(3)]).toBeCloseTo(said('runa', begins + at(3)), 5);
  });
});
