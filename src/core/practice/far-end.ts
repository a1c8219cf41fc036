import { createRandom, seedFor } from '../random';
import { createRoom } from './room';
import { createPracticeVoice } from './voice';

export interface FarEndOptions {
  /** What each person there says, 48 kHz mono clips. */
  people: readonly (readonly Float32Array[])[];
  seed: number;
  maxBlock: number;
  /** Sends everything it hears back to where it came from. */
  sendsBack?: boolean;
  /** Listens on loudspeakers: what is heard reaches the microphone. */
  loudspeakers?: boolean;
}

/** People in an outside program at the far end of two cables. They wait until it is quiet before they speak. */
export interface FarEnd {
  /** The next block: what is heard there goes in, what is said there comes out. Mono. */
  process(heard: Float32Array, said: Float32Array, length: number): void;
}

const RATE = 48000;
/** Quieter than this is nobody speaking, mean square (−50 dBFS). */
const QUIET = 1e-5;
const QUIET_SECONDS = 0.7;
const REST_SECONDS = [1.2, 3.5] as const;
const LOUDSPEAKER_DB = -18;
const ROOM_MS = 90;
const SENT_BACK_GAIN = 0.7;
const SENT_BACK_SAMPLES = 0.12 * RATE;

export function createFarEnd({ people, seed, maxBlock, sendsBack = false, loudspeakers = false }: FarEndOptions): FarEnd {
  const random = createRandom(seedFor(seed, 'far end'));
  const voice = createPracticeVoice();
  const room = createRoom({ couplingDb: loudspeakers ? LOUDSPEAKER_DB : null, delayMs: ROOM_MS, seed }, maxBlock);
  const system = new Float32Array(2 ** 14);
  const next = people.map(() => 0);
  let clock = 0;
  let quietSince = 0;
  let freeAt = RATE;
  let turn = 0;

  const speak = (): void => {
    const person = turn++ % people.length;
    const clip = people[person][next[person]++ % people[person].length];
    voice.say(clip, clock);
    freeAt = clock + clip.length + random.between(...REST_SECONDS) * RATE;
  };

  return {
    process(heard, said, length) {
      let energy = 0;
      for (let i = 0; i < length; i++) energy += heard[i] * heard[i];
      if (energy > QUIET * length) quietSince = clock + length;
      if (people.length > 0 && clock >= freeAt && clock - quietSince > QUIET_SECONDS * RATE) speak();
      voice.fill(said, length);
      room.pickUp(said, length);
      room.play(heard, length);
      for (let i = 0; i < length; i++) {
        const place = (clock + i) & (system.length - 1);
        if (sendsBack) said[i] += SENT_BACK_GAIN * system[(clock + i - SENT_BACK_SAMPLES) & (system.length - 1)];
        system[place] = heard[i];
      }
      clock += length;
    },
  };
}
