import { createHash } from 'node:crypto';
import { decodeSamples, encodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import type { DerivedKind } from '@/core/takes/track-kinds';
import { summarise } from '@/core/takes/peaks';
import { insertChunk } from '../takes/chunk-store';
import { insertDerivedTrack, type TrackRow } from '../takes/queries';
import type { Querier } from '../database';

/** Stores a mono track that is made from another, piece by piece as it comes. Returns its id. */
export async function storeDerived(db: Querier, origin: TrackRow, kind: DerivedKind, pieces: AsyncIterable<Float32Array>): Promise<string> {
  const { take_id, recorded, name, format } = origin;
  const id = await insertDerivedTrack(db, take_id, { kind, recorded, name, format, channels: 1, derivedFrom: origin.id });
  const chunk = new Float32Array(CHUNK_FRAMES);
  let filled = 0;
  let index = 0;
  const store = async (): Promise<void> => {
    const samples = encodeSamples(format, [chunk], 0, filled);
    const { peaks, peak, sumOfSquares } = summarise(decodeSamples(format, 1, samples));
    await insertChunk(db, id, { index, frames: filled, sha256: createHash('sha256').update(samples).digest(), samples: Buffer.from(samples), peaks: Buffer.from(peaks.buffer), peak, sumOfSquares });
    index++;
    filled = 0;
  };
  for await (const piece of pieces) {
    for (let done = 0; done < piece.length; ) {
      const count = Math.min(piece.length - done, CHUNK_FRAMES - filled);
      chunk.set(piece.subarray(done, done + count), filled);
      filled += count;
      done += count;
      if (filled === CHUNK_FRAMES) await store();
    }
  }
  if (filled > 0) await store();
  return id;
}
