import { createSoundEnds, gainAtEnds, isWholeBetween, type Kept } from '@/core/takes/silent-ends';
import type { SoundSource } from './sound-source';

/** Lets a sound at 48 kHz through and finds where it is heard on the way; `kept` is right when all has gone through. */
export function findingEnds(source: SoundSource): { source: SoundSource; kept(): Kept } {
  const ends = createSoundEnds();
  return {
    source: {
      ...source,
      async *pieces() {
        for await (const piece of source.pieces()) {
          ends.push(piece);
          yield piece;
        }
      },
    },
    // A sound that is silent throughout is left whole.
    kept: () => ends.result() ?? { from: 0, to: source.frames },
  };
}

/** A stretch of a sound, which comes and goes gently where something was cut off. */
export function cutTo(source: SoundSource, kept: Kept): SoundSource {
  return {
    ...source,
    frames: kept.to - kept.from,
    async *pieces() {
      let at = 0;
      for await (const piece of source.pieces()) {
        const [first, end] = [Math.max(0, kept.from - at), Math.min(piece[0].length, kept.to - at)];
        if (end > first) yield piece.map((samples) => faded(samples.subarray(first, end), at + first, kept, source.frames));
        at += piece[0].length;
      }
    },
  };
}

function faded(samples: Float32Array<ArrayBuffer>, at: number, kept: Kept, lengthSamples: number): Float32Array<ArrayBuffer> {
  const out = samples.slice();
  // Between the ends nothing is changed.
  if (isWholeBetween(kept, lengthSamples, at, at + out.length)) return out;
  for (let i = 0; i < out.length; i++) {
    const gain = gainAtEnds(kept, lengthSamples, at + i);
    if (gain < 1) out[i] *= gain;
  }
  return out;
}
