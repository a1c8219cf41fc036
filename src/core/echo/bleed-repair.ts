import { createBleedFilter, FILTER_BLOCK } from './bleed-filter';

export interface RepairRequest {
  lengthSamples: number;
  /** A stretch of the track to repair, mono at 48 kHz. */
  track(fromSample: number, lengthSamples: number): Promise<Float32Array> | Float32Array;
  /** The same of each source that is heard in it, and how late it is heard there, samples. */
  sources: readonly { delaySamples: number; read(fromSample: number, lengthSamples: number): Promise<Float32Array> | Float32Array }[];
  /** Share done, 0 to 1. */
  onProgress?(share: number): Promise<void> | void;
}

/** Samples read and given out at once: about a second. */
const PIECE = 94 * FILTER_BLOCK;
/** The path may begin this much before the strongest arrival: 4 ms. */
const LEAD = 192;
/** The first pass learns from this much: 5 minutes. */
const LEARN_SAMPLES = 300 * 48000;
/** Between the filter's output and the track as it was, where the filter would only add: 5.3 ms. */
const CROSSFADE = 256;

/**
 * A track with other people's voices taken out as far as they are known: one pass learns the paths, the next one
 * takes them out. Where a block would come out louder than it went in, it stays as it was.
 */
export async function* repairBleed({ lengthSamples, track, sources, onProgress }: RepairRequest): AsyncGenerator<Float32Array<ArrayBuffer>> {
  const filter = createBleedFilter(sources.length);
  const cleaned = new Float32Array(FILTER_BLOCK);
  const learning = Math.min(lengthSamples, LEARN_SAMPLES);
  const total = learning + lengthSamples;
  const guard = createGuard();
  for (const [pass, length] of [learning, lengthSamples].entries()) {
    for (let at = 0; at < length; at += PIECE) {
      const piece = await track(at, PIECE);
      const references: Float32Array[] = [];
      for (const { read, delaySamples } of sources) references.push(await read(at - delaySamples + LEAD, PIECE));
      const out = new Float32Array(PIECE);
      for (let from = 0; from < PIECE; from += FILTER_BLOCK) {
        const block = piece.subarray(from, from + FILTER_BLOCK);
        filter.takeAway(block, references.map((samples) => samples.subarray(from, from + FILTER_BLOCK)), cleaned);
        filter.learn();
        if (pass === 1) guard(block, cleaned, out.subarray(from, from + FILTER_BLOCK));
      }
      if (pass === 1) yield out.subarray(0, Math.min(PIECE, length - at));
      await onProgress?.(((pass === 0 ? 0 : learning) + Math.min(length, at + PIECE)) / total);
    }
  }
}

/** Goes from one to the other without a step. */
function createGuard() {
  let share = 1;
  return (before: Float32Array, after: Float32Array, out: Float32Array): void => {
    const target = energy(after) <= energy(before) * 1.02 ? 1 : 0;
    for (let i = 0; i < before.length; i++) {
      share += Math.sign(target - share) * Math.min(Math.abs(target - share), 1 / CROSSFADE);
      out[i] = before[i] + share * (after[i] - before[i]);
    }
  };
}

function energy(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return sum;
}
