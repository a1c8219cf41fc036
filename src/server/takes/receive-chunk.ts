import { createHash } from 'node:crypto';
import type pg from 'pg';
import { BYTES_PER_SAMPLE, decodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { summarise } from '@/core/takes/peaks';
import { inTransaction } from '../database';
import { HttpError } from '../http/errors';
import { chunkChecksum, insertChunk } from './chunk-store';
import { findTrack, lockTake } from './queries';

export interface ArrivingChunk {
  take: string;
  track: string;
  index: number;
  /** Checksum the sender computed, hex. */
  sha256: string;
  samples: Uint8Array;
}

/**
 * Takes one chunk of a track, at most once and in any order. The same chunk again is fine, at any
 * time; another chunk in its place, or one for a sealed take, is refused and changes nothing.
 * @throws {HttpError} 409 or 422, saying which
 */
export async function receiveChunk(pool: pg.Pool, chunk: ArrivingChunk): Promise<'stored' | 'already-stored'> {
  const sha256 = createHash('sha256').update(chunk.samples).digest();
  if (sha256.toString('hex') !== chunk.sha256.toLowerCase()) {
    throw new HttpError(422, 'checksum', 'The chunk was damaged on its way: its checksum does not match. Send it again.');
  }
  return inTransaction(pool, async (client) => {
    // Shared: chunks of one take do not wait for one another, but a seal waits for them.
    const take = await lockTake(client, chunk.take, 'shared');
    const track = await findTrack(client, chunk.take, chunk.track);
    const present = await chunkChecksum(client, chunk.track, chunk.index);
    if (present) return sameOrRefuse(present, sha256);
    if (take.state === 'sealed') {
      throw new HttpError(409, 'take-sealed', 'This take is sealed; nothing can be added to it.');
    }
    const frameBytes = BYTES_PER_SAMPLE[track.format] * track.channels;
    const frames = chunk.samples.length / frameBytes;
    if (!Number.isInteger(frames) || frames < 1 || frames > CHUNK_FRAMES) {
      throw new HttpError(
        422,
        'chunk-length',
        `A chunk of this track holds 1 to ${CHUNK_FRAMES} whole frames of ${frameBytes} bytes; ${chunk.samples.length} bytes came.`,
      );
    }
    const { peaks, peak, sumOfSquares } = summarise(decodeSamples(track.format, track.channels, chunk.samples));
    const stored = await insertChunk(client, chunk.track, {
      index: chunk.index,
      frames,
      sha256,
      samples: Buffer.from(chunk.samples),
      peaks: Buffer.from(peaks.buffer),
      peak,
      sumOfSquares,
    });
    if (stored) return 'stored';
    // Two senders at once: the other one was first.
    return sameOrRefuse((await chunkChecksum(client, chunk.track, chunk.index)) ?? sha256, sha256);
  });
}

function sameOrRefuse(present: Buffer, arriving: Buffer): 'already-stored' {
  if (present.equals(arriving)) return 'already-stored';
  throw new HttpError(409, 'chunk-conflict', 'Another chunk is already stored in this place; it was kept.');
}
