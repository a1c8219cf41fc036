import { execFileSync } from 'node:child_process';
import { decodeSamples } from '../src/core/formats/wav/sample-format';
import { dbToGain } from '../src/core/dsp/decibels';
import { compilePlan } from '../src/core/hearing/compile';
import { voiceOf } from '../src/core/hearing/ids';
import type { HearingPlan } from '../src/core/hearing/plan';
import { callerSettings } from '../src/core/practice/caller';
import { DEMO_TURNS, DEMO_VOICES, demoClipPath } from '../src/core/practice/demo-conversation';
import { seedFor } from '../src/core/random';
import { createMixSession } from '../src/core/session/mix-session';
import { DEMO_PEOPLE } from '../src/server/demo/world';
import { PRACTICE_SEED } from '../src/live/desk/sound-files';

const BLOCK = 128;

/** Decodes a demo file with a tool that is not ours. */
function decode(path: string, channels: number): Float32Array[] {
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', `public${path}`, '-f', 'f32le', '-'], { maxBuffer: 2 ** 28 });
  return decodeSamples('float32', channels, bytes);
}

export interface Simulation {
  plan: HearingPlan;
  /** Session clocks as the take has them. */
  clockAtCall: number;
  clockAtStart: number;
  lengthSamples: number;
  /** When the bell was pressed, in samples from the take's beginning. */
  bellAt: number;
  bellLevelDb: number;
}

/** Somebody sits where the plan says: the demo's own, or what another test made of it. */
const loudspeakersIn = ({ couplings }: HearingPlan, seat: string): number | null => couplings.find(({ kind, to }) => kind === 'loudspeakers' && to === voiceOf(seat))?.gainDb ?? null;

/** A block of the simulated call, by source. */
type Block = ReadonlyMap<string, { left: Float32Array; right: Float32Array }>;

/**
 * Runs the demo's call again in Node, from the same seed and the same core, and gives what each simulated line sent, block by
 * block, over the stretch a take recorded. The arrays are used again for the next.
 */
export function* simulateCall(simulation: Simulation): Generator<Block> {
  const { plan, clockAtCall, clockAtStart, lengthSamples, bellAt, bellLevelDb } = simulation;
  const compiled = compilePlan(plan);
  const session = createMixSession({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: BLOCK });
  session.setPlan(compiled);
  const [left, right] = decode('/practice/sounds/ships-bell.flac', 2);
  session.addSound('bell', 'effects', { left, right, loop: false });
  const speakers = DEMO_VOICES.map((voice) => {
    const person = DEMO_PEOPLE.find(({ practice }) => practice?.voice === voice.id)!;
    const clips = voice.lines.map((_, line) => decode(demoClipPath(voice.id, line), 1)[0]);
    const caller = person.role === 'host' ? null : callerSettings(person.practice!, seedFor(PRACTICE_SEED, person.id));
    return { seat: person.id, clips, caller };
  });
  const block = new Map(compiled.sourceIds.map((id, n) => [id as string, { left: session.engine.taps[n].left.subarray(0, BLOCK), right: session.engine.taps[n].right.subarray(0, BLOCK) }]));
  for (let clock = 0; clock < clockAtStart + lengthSamples; clock += BLOCK) {
    if (clock === clockAtCall) {
      session.startPractice({ seed: PRACTICE_SEED, speakers, turns: [...DEMO_TURNS] });
      for (const { seat, caller } of speakers) if (caller) session.setPracticeRoom(seat, loudspeakersIn(plan, seat));
    }
    if (clock === clockAtStart + bellAt) session.pressSounds([{ id: 'bell', gain: dbToGain(bellLevelDb), again: 'restart', others: [], crossfadeSamples: 0 }]);
    session.fill(BLOCK);
    session.mix(BLOCK);
    if (clock >= clockAtStart) yield block;
  }
}

/** All of that at once. */
export function simulateSources(simulation: Simulation): Map<string, Float32Array[]> {
  const sent = new Map<string, Float32Array[]>();
  let at = 0;
  for (const block of simulateCall(simulation)) {
    for (const [id, { left, right }] of block) {
      if (!sent.has(id)) sent.set(id, [new Float32Array(simulation.lengthSamples), new Float32Array(simulation.lengthSamples)]);
      sent.get(id)![0].set(left, at);
      sent.get(id)![1].set(right, at);
    }
    at += BLOCK;
  }
  return sent;
}
