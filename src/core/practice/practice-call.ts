import type { Stereo } from '../engine/mixer';
import { createRandom, seedFor } from '../random';
import { createPracticeCaller, type CallerSettings } from './caller';
import { createConversation, type Turn } from './conversation';
import { createPracticeVoice } from './voice';

export interface PracticeSpeaker {
  /** Id of the seat this speaker sits in. */
  seat: string;
  /** What they can say, mono at 48 kHz. */
  clips: Float32Array[];
  /** Their room and network; null for somebody at the desk itself (the simulated host). */
  caller: CallerSettings | null;
}

export interface PracticeCallOptions {
  seed: number;
  speakers: PracticeSpeaker[];
  turns: Turn[];
}

/** Everybody simulated in one call, taking turns. */
export interface PracticeCall {
  readonly seats: readonly string[];
  /** Moves the conversation to the end of the coming block. Call once a block, first. */
  advance(length: number): void;
  /** The next block of what arrives from a speaker. */
  produce(speaker: number, out: Float32Array, length: number): void;
  /** The return of a speaker over the same block. */
  hear(speaker: number, mix: Stereo, length: number): void;
  concealedSamples(speaker: number): number;
  /** Level of a speaker's loudspeakers in their microphone, dB; null for a headset. */
  setCoupling(speaker: number, couplingDb: number | null): void;
}

export function createPracticeCall(options: PracticeCallOptions, maxBlock: number): PracticeCall {
  const { speakers, turns, seed } = options;
  const callers = speakers.map(({ caller }) => (caller ? createPracticeCaller(caller, maxBlock) : null));
  const voices = callers.map((caller) => caller?.voice ?? createPracticeVoice());
  const lengths = speakers.map(({ clips }) => clips.map((clip) => clip.length));
  const conversation = createConversation(turns, lengths, createRandom(seedFor(seed, 'conversation')));
  let clock = 0;
  return {
    seats: speakers.map(({ seat }) => seat),
    advance(length) {
      clock += length;
      for (const turn of conversation.turnsBefore(clock)) {
        voices[turn.speaker].say(speakers[turn.speaker].clips[turn.clip], turn.atSample);
      }
    },
    produce(speaker, out, length) {
      const caller = callers[speaker];
      if (caller) caller.produce(out, length);
      else voices[speaker].fill(out, length);
    },
    hear(speaker, mix, length) {
      callers[speaker]?.hear(mix, length);
    },
    setCoupling: (speaker, couplingDb) => callers[speaker]?.room.setCoupling(couplingDb),
    concealedSamples: (speaker) => callers[speaker]?.uplink.concealedSamples() ?? 0,
  };
}
