import { compilePlan, type CompiledPlan } from '../hearing/compile';

import { createPlan, type HearingPlan, type Seat } from '../hearing/plan';
import { createRandom, seedFor } from '../random';
import { createMixSession, type MixSession } from '../session/mix-session';
import { callerSettings } from './caller';
import { randomTurns } from './conversation';
import type { PracticeCallOptions } from './practice-call';
import { syntheticClip } from './synthetic-voice';

export interface SimulatedCallOptions {
  callers: number;
  seed: number;
  /** Sound players, each with one sound that is played now and then. */
  sounds: number;
  /** Callers without headphones, numbered from 1. */
  loudspeakers: readonly number[];
  /** A caller whose voice is left out, numbered from 1: for measuring what their voice adds. */
  withoutVoice?: number;
}

export interface SimulatedCall {
  plan: HearingPlan;
  compiled: CompiledPlan;
  session: MixSession;
  /** Fills the sources of the next block; call `session.mix` after it. */
  fill(length: number): void;
}

const CLIPS_EACH = 3;
const SOUND_SECONDS = 2.5;
const SECONDS_BETWEEN_SOUNDS = 3;

/** A whole made-up call on the live code: host, callers, sounds, everything from one seed. */
export function createSimulatedCall(options: SimulatedCallOptions, maxBlock: number): SimulatedCall {
  const { callers, seed, sounds } = options;
  const seats: Seat[] = [seatOf('host', 'Host', 'host')];
  for (let n = 1; n <= callers; n++) seats.push(seatOf(`caller-${n}`, `Caller ${n}`, 'caller'));
  const players = Array.from({ length: sounds }, (_, k) => ({ id: `player-${k + 1}`, name: `Player ${k + 1}` }));
  const plan = createPlan(seats, players);
  const compiled = compilePlan(plan);
  const session = createMixSession({
    sources: compiled.sourceIds.length,
    listeners: compiled.listenerIds.length,
    maxBlock,
  });
  session.setPlan(compiled);
  players.forEach(({ id }, k) => session.addSound(id, id, chord(seedFor(seed, `sound-${k}`))));
  session.startPractice(practiceOptions(options, seats));

  let nextSound = 0;
  let nextSoundAt = 48000;
  return {
    plan,
    compiled,
    session,
    fill(length) {
      if (sounds > 0 && session.engine.clock() >= nextSoundAt) {
        session.pressSounds([{ id: players[nextSound % sounds].id, gain: 1, again: 'restart', others: [], crossfadeSamples: 0 }]);
        nextSound++;
        nextSoundAt += SECONDS_BETWEEN_SOUNDS * 48000;
      }
      session.fill(length);
    },
  };
}

/** What people on loudspeakers and networks would send, for every seat of the call. */
function practiceOptions(options: SimulatedCallOptions, seats: Seat[]): PracticeCallOptions {
  const { seed, loudspeakers, withoutVoice } = options;
  const lengths = createRandom(seedFor(seed, 'lengths'));
  const speakers = seats.map((seat, place) => {
    const clips = Array.from({ length: CLIPS_EACH }, (_, k) =>
      syntheticClip(seedFor(seed, `${seat.id}-${k}`), lengths.between(0.8, 2.4)),
    );
    if (place === withoutVoice) for (const clip of clips) clip.fill(0);
    const character = {
      loudspeakers: loudspeakers.includes(place),
      network: place % 3 === 0 ? 'weak' : 'good',
    } as const;
    const caller = seat.role === 'host' ? null : callerSettings(character, seedFor(seed, seat.id));
    return { seat: seat.id, clips, caller };
  });
  const turns = randomTurns(seats.length, CLIPS_EACH, 50, createRandom(seedFor(seed, 'turns')));
  return { seed, speakers, turns };
}



function seatOf(id: string, name: string, role: Seat['role']): Seat {
  return { id, name, role, line: 'practice', reflexive: 'themselves' };
}

/** Three decaying partials, a little wider on one side: a stand-in for music. */
function chord(seed: number) {
  const random = createRandom(seed);
  const length = Math.round(SOUND_SECONDS * 48000);
  const left = new Float32Array(length);
  const right = new Float32Array(length);
  for (let partial = 0; partial < 3; partial++) {
    const step = (2 * Math.PI * random.between(180, 900)) / 48000;
    const lean = random.between(0.6, 1);
    for (let i = 0; i < length; i++) {
      const sample = 0.06 * Math.sin(step * i) * Math.exp((-3 * i) / length) * Math.min(1, i / 480);
      left[i] += sample;
      right[i] += sample * lean;
    }
  }
  return { left, right, loop: false };
}
