import { createBleedFilter, FILTER_BLOCK, type BleedFilterOptions } from './bleed-filter';
import { betterOfTwo } from './better-of-two';
import { Residue } from './residue';

/** Somebody who is heard in a track. */
export interface BleedingSource {
  /** How late they are heard there, samples. */
  delaySamples: number;
  /** How loud, against their own track; dB. */
  gainDb: number;
  /** A stretch of their own track, mono at 48 kHz. */
  read(fromSample: number, lengthSamples: number): Promise<Float32Array> | Float32Array;
}

export interface RepairRequest {
  lengthSamples: number;
  /** A stretch of the track to repair, mono at 48 kHz. */
  track(fromSample: number, lengthSamples: number): Promise<Float32Array> | Float32Array;
  sources: readonly BleedingSource[];
  /** Share done, 0 to 1. */
  onProgress?(share: number): Promise<void> | void;
}

/** A path of 192 ms, which may change: somebody moves, or a buffer of the line does. */
const OF_A_TAKE: BleedFilterOptions = { partitions: 18, transition: 0.9998, change: 0.1, fadePerPartition: 0.75, constrained: 2 };
const HISTORY = OF_A_TAKE.partitions * FILTER_BLOCK;
/** The path may begin this much before where it was measured: 25 ms, for a line's buffer that becomes shorter. */
const LEAD = 1200;
/** Given out at once, some 40 s, and what is looked at behind it to know how it ends, 8 s. */
const SEGMENT = 3750 * FILTER_BLOCK;
const BEHIND = 750 * FILTER_BLOCK;
/** How far it is is said about every second of sound: whoever waits may have to do something else meanwhile, or stop it. */
const PIECE = 94 * FILTER_BLOCK;
/** Between what was repaired and the track as it was, where the filter would only add: 5.3 ms. */
const CROSSFADE = 256;

/**
 * A track with other people's voices taken out as far as they are known. One filter goes through it forwards and one
 * backwards: where a path changes, the one has already learned what the other is still to learn. Where a block would come out
 * louder than it went in, it stays as it was.
 */
export async function* repairBleed({ lengthSamples, track, sources, onProgress }: RepairRequest): AsyncGenerator<Float32Array<ArrayBuffer>> {
  if (lengthSamples === 0) return;
  const powers = sources.map(({ gainDb }) => 10 ** (gainDb / 10));
  const [forwards, backwards] = [createBleedFilter(powers, OF_A_TAKE), createBleedFilter(powers, OF_A_TAKE)];
  const [one, other] = [new Float32Array(SEGMENT), new Float32Array(SEGMENT)];
  /** What is behind a segment is only learned from. */
  const unused = new Float32Array(FILTER_BLOCK);
  const choose = betterOfTwo();
  const guard = createGuard();
  const residue = new Residue();
  for (let at = 0; at < lengthSamples; at += SEGMENT) {
    const sound = await track(at, SEGMENT + BEHIND);
    const references: Float32Array[] = [];
    for (const { read, delaySamples } of sources) references.push(await read(at - delaySamples + LEAD - HISTORY, HISTORY + SEGMENT + BEHIND + FILTER_BLOCK));
    const length = Math.min(SEGMENT, FILTER_BLOCK * Math.ceil((lengthSamples - at) / FILTER_BLOCK));
    const end = Math.min(length + BEHIND, FILTER_BLOCK * Math.ceil((lengthSamples - at) / FILTER_BLOCK));
    const block = (from: number): Float32Array => sound.subarray(from, from + FILTER_BLOCK);
    const referenced = (from: number, blocks: number): Float32Array[] => references.map((samples) => samples.subarray(HISTORY + from, HISTORY + from + blocks * FILTER_BLOCK));

    const tell = async (from: number, share: number): Promise<void> => {
      if (from % PIECE === 0) await onProgress?.(Math.min(1, (at + share * length) / lengthSamples));
    };

    for (let from = 0; from < length; from += FILTER_BLOCK) {
      forwards.takeAway(block(from), referenced(from, 1), one.subarray(from, from + FILTER_BLOCK));
      forwards.learn();
      await tell(from, (0.5 * from) / length);
    }
    backwards.adopt(forwards);
    for (let from = end - HISTORY; from <= end; from += FILTER_BLOCK) backwards.recall(referenced(from, 1));
    for (let from = end - FILTER_BLOCK; from >= 0; from -= FILTER_BLOCK) {
      backwards.takeAwayBefore(block(from), referenced(from - HISTORY, 2), from < length ? other.subarray(from, from + FILTER_BLOCK) : unused);
      backwards.learn();
      await tell(from, 1 - (0.5 * from) / end);
    }
    const out = choose(one.subarray(0, length), other.subarray(0, length));
    for (let from = 0; from < length; from += FILTER_BLOCK) guard(block(from), out.subarray(from, from + FILTER_BLOCK));
    const clean = residue.process(sound.subarray(0, length), out);
    // What comes out is a block late: the first one is nothing, and the last one is still inside.
    yield at === 0 ? clean.subarray(FILTER_BLOCK) : clean;
  }
  const rest = residue.process(new Float32Array(FILTER_BLOCK), new Float32Array(FILTER_BLOCK));
  yield rest.subarray(0, 1 + ((lengthSamples - 1) % FILTER_BLOCK));
}

/** Goes from one to the other without a step. */
function createGuard() {
  let share = 1;
  return (before: Float32Array, after: Float32Array): void => {
    const target = energy(after) <= energy(before) * 1.02 ? 1 : 0;
    for (let i = 0; i < before.length; i++) {
      share += Math.sign(target - share) * Math.min(Math.abs(target - share), 1 / CROSSFADE);
      after[i] = before[i] + share * (after[i] - before[i]);
    }
  };
}

function energy(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return sum;
}
