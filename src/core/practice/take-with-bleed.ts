import { dbToGain } from '../dsp/decibels';
import { createRandom, seedFor } from '../random';
import { createConversation, randomTurns } from './conversation';
import { createRoom } from './room';
import { syntheticClip } from './synthetic-voice';

/** A way from one person's voice into another's track. */
export interface SimulatedBleed {
  source: number;
  target: number;
  gainDb: number;
  delayMs: number;
}

export interface SimulatedTake {
  /** What each person said, alone. */
  clean: Float32Array[];
  /** Each track as it would be recorded: voice, bleed and the noise of its room. */
  tracks: Float32Array[];
}

export interface SimulatedTakeOptions {
  people: number;
  seconds: number;
  seed: number;
  bleed: readonly SimulatedBleed[];
  /** Level of each track's own noise, dBFS. */
  noiseDb: number;
  /** Share of turns that begin while somebody else still speaks, by how much they reach back, s. */
  overlapSeconds?: number;
}

const RATE = 48000;
const CLIP_SECONDS = [2.2, 3.1, 4.3];
const BLOCK = 480;

/** People taking turns with known bleed between their tracks, the same for the same seed. */
export function simulateTake({ people, seconds, seed, bleed, noiseDb, overlapSeconds = 0 }: SimulatedTakeOptions): SimulatedTake {
  const length = Math.round(seconds * RATE);
  const clips = Array.from({ length: people }, (_, person) => CLIP_SECONDS.map((clip, k) => syntheticClip(seedFor(seed, `voice ${person} ${k}`), clip)));
  const clean = clips.map(() => new Float32Array(length));
  const random = createRandom(seedFor(seed, 'turns'));
  // Told shorter than they are, turns begin before the last one has ended.
  const told = clips.map((own) => own.map((clip) => clip.length - Math.round(overlapSeconds * RATE)));
  const conversation = createConversation(randomTurns(people, CLIP_SECONDS.length, Math.ceil(seconds / people), random), told, random);
  for (const { speaker, clip, atSample } of conversation.turnsBefore(length)) {
    const sound = clips[speaker][clip];
    for (let i = 0; i < sound.length && atSample + i < length; i++) clean[speaker][atSample + i] += sound[i];
  }
  const noise = createRandom(seedFor(seed, 'noise'));
  const tracks = clean.map((voice) => voice.map((sample) => sample + dbToGain(noiseDb) * noise.normal()));
  for (const [k, { source, target, gainDb, delayMs }] of bleed.entries()) {
    const room = createRoom({ couplingDb: gainDb, delayMs, seed: seedFor(seed, `room ${k}`) }, BLOCK);
    for (let at = 0; at + BLOCK <= length; at += BLOCK) {
      room.pickUp(tracks[target].subarray(at, at + BLOCK), BLOCK);
      room.play(clean[source].subarray(at, at + BLOCK), BLOCK);
    }
  }
  return { clean, tracks };
}
