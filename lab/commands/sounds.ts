import { createPlan, type Seat } from '../../src/core/hearing/plan';
import { compilePlan } from '../../src/core/hearing/compile';
import { BED_DUCKS, FIRST_PLAYERS } from '../../src/core/hearing/ducking';
import { voiceOf } from '../../src/core/hearing/ids';
import { syntheticClip } from '../../src/core/practice/synthetic-voice';
import { createRandom } from '../../src/core/random';
import { createMixSession, type MixSession } from '../../src/core/session/mix-session';
import { parseOptions } from '../arguments';

export const usage = 'lab sounds [--json]';

const BLOCK = 128;
const RATE = 48000;
const SECONDS = 8;
const RUNS = 7;

/** What sounds cost the audio thread: a desk of 8 people with 0, 1, 12 and 32 sounds at once, as shares of a block's time. */
export function run(words: readonly string[]): object {
  parseOptions(words, [], ['json']);
  return {
    unit: 'computing time as a share of the block’s own time; slowest of 1000 blocks as well',
    block: BLOCK,
    people: 8,
    atOnce: [0, 1, 12, 32].map((sounds) => ({ sounds, ...cost(sounds) })),
  };
}

function cost(sounds: number): { median: number; slowestOfThousand: number } {
  const seats = Array.from({ length: 8 }, (_, k): Seat => ({ id: `seat-${k}`, name: `Seat ${k}`, role: k === 0 ? 'host' : 'caller', line: 'link', reflexive: 'themselves' }));
  const compiled = compilePlan({ ...createPlan(seats, FIRST_PLAYERS), ducking: BED_DUCKS });
  const session = createMixSession({ sources: 32, listeners: 32, maxBlock: BLOCK });
  session.setPlan(compiled);
  const random = createRandom(3);
  const clip = Float32Array.from({ length: RATE * 2 }, () => random.between(-0.1, 0.1));
  for (let k = 0; k < sounds; k++) {
    session.addSound(`sound-${k}`, k % 2 === 0 ? 'bed' : 'effects', { left: clip, right: clip, loop: true });
    session.pressSounds([{ id: `sound-${k}`, gain: 0.3, again: 'restart', others: [], crossfadeSamples: 0 }]);
  }
  const voices = seats.map(({ id }, k) => ({ slot: compiled.sourceIds.indexOf(voiceOf(id)), sound: syntheticClip(k, 3) }));
  runFor(session, voices, 1);
  const times = Array.from({ length: RUNS }, () => runFor(session, voices, SECONDS)).map((blocks) => blocks.sort((a, b) => a - b));
  const ofRuns = (share: number) => times.map((blocks) => blocks[Math.floor(blocks.length * share)]).sort((a, b) => a - b)[Math.floor(RUNS / 2)];
  const blockMs = (1000 * BLOCK) / RATE;
  return { median: Number((ofRuns(0.5) / blockMs).toFixed(4)), slowestOfThousand: Number((ofRuns(0.999) / blockMs).toFixed(4)) };
}

/** Milliseconds each block took. */
function runFor(session: MixSession, voices: { slot: number; sound: Float32Array }[], seconds: number): number[] {
  const times: number[] = [];
  for (let at = 0; at < seconds * RATE; at += BLOCK) {
    const began = performance.now();
    session.fill(BLOCK);
    for (const { slot, sound } of voices) {
      const from = at % (sound.length - BLOCK);
      session.engine.inputs[slot].left.set(sound.subarray(from, from + BLOCK));
      session.engine.inputs[slot].right.set(sound.subarray(from, from + BLOCK));
    }
    session.mix(BLOCK);
    times.push(performance.now() - began);
  }
  return times;
}
