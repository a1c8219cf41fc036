import type { Random } from '../random';

/** One talker's turn: who, and which of their clips. */
export interface Turn {
  speaker: number;
  clip: number;
}

export interface ScheduledTurn extends Turn {
  atSample: number;
}

const FIRST_TURN_SECONDS = 0.4;
const SHORTEST_PAUSE_SECONDS = 0.2;
const LONGEST_PAUSE_SECONDS = 0.75;

/**
 * People taking turns: the turns of a script in order, over and over, with pauses that differ from
 * turn to turn and repeat with the seed.
 */
export interface Conversation {
  /** The turns that begin before a sample and were not handed out yet, in time order. */
  turnsBefore(sample: number): ScheduledTurn[];
}

const NO_TURNS: ScheduledTurn[] = [];

/** @param clipLengths for each speaker the length of each clip, samples */
export function createConversation(
  turns: readonly Turn[],
  clipLengths: readonly (readonly number[])[],
  random: Random,
  sampleRate = 48000,
): Conversation {
  let next = 0;
  let nextStart = Math.round(FIRST_TURN_SECONDS * sampleRate);
  return {
    turnsBefore(sample) {
      if (turns.length === 0 || nextStart >= sample) return NO_TURNS;
      const begun: ScheduledTurn[] = [];
      while (nextStart < sample) {
        const turn = turns[next % turns.length];
        begun.push({ ...turn, atSample: nextStart });
        const pause = random.between(SHORTEST_PAUSE_SECONDS, LONGEST_PAUSE_SECONDS);
        nextStart += clipLengths[turn.speaker][turn.clip] + Math.round(pause * sampleRate);
        next++;
      }
      return begun;
    },
  };
}

/** A script for any number of speakers: nobody speaks twice running, everybody gets a turn. */
export function randomTurns(speakers: number, clipsEach: number, rounds: number, random: Random): Turn[] {
  const turns: Turn[] = [];
  for (let round = 0; round < rounds; round++) {
    const order = Array.from({ length: speakers }, (_, speaker) => speaker);
    for (let i = order.length - 1; i > 0; i--) {
      const j = random.index(i + 1);
      [order[i], order[j]] = [order[j], order[i]];
    }
    const last = turns.at(-1)?.speaker;
    if (order.length > 1 && order[0] === last) order.push(order.shift()!);
    for (const speaker of order) turns.push({ speaker, clip: random.index(clipsEach) });
  }
  return turns;
}
