import { createHash } from 'node:crypto';
import type pg from 'pg';
import { BYTES_PER_SAMPLE, decodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { summarise } from '@/core/takes/peaks';
import { inTransaction, type Querier } from '../database';
import { HttpError } from '../http/errors';
import { chunkChecksum, insertChunk } from './chunk-store';
import { findTrack, lockTake, type TakeRow, type TrackRow } from './queries';

export interface ArrivingChunk {
  track: string;
  index: number;
  /** Checksum the sender computed, hex. */
  sha256: string;
  samples: Uint8Array;
}

export type Received = 'stored' | 'already-stored';

/**
 * Takes chunks of a take's tracks, each at most once and in any order: all of them in one transaction, or none. The same
 * chunk again is fine, at any time; another chunk in its place, or one for a sealed take, is refused and changes nothing.
 * @throws {HttpError} 404, 409 or 422, saying which
 */
export async function receiveChunks(pool: pg.Pool, takeId: string, chunks: readonly ArrivingChunk[]): Promise<Received[]> {
  const sums = chunks.map(({ samples }) => createHash('sha256').update(samples).digest());
  if (sums.some((sum, k) => sum.toString('hex') !== chunks[k].sha256.toLowerCase())) {
    throw new HttpError(422, 'checksum', 'A chunk was damaged on its way: its checksum does not match. Send it again.');
  }
  return inTransaction(pool, async (client) => {
    // Shared: chunks of one take do not wait for one another, but a seal waits for them.
    const take = await lockTake(client, takeId, 'shared');
    const tracks = new Map<string, TrackRow>();
    for (const id of new Set(chunks.map(({ track }) => track))) tracks.set(id, await findTrack(client, takeId, id));
    const results: Received[] = [];
    // In one order whoever sends, so that two who bring the same chunks never wait for each other.
    const order = chunks.map((_, k) => k).sort((a, b) => chunks[a].track.localeCompare(chunks[b].track) || chunks[a].index - chunks[b].index);
    for (const k of order) results[k] = await store(client, take, tracks.get(chunks[k].track)!, chunks[k], sums[k]);
    return results;
  });
}

async function store(db: Querier, take: TakeRow, track: TrackRow, { index, samples }: ArrivingChunk, sha256: Buffer): Promise<Received> {
  if (take.state === 'sealed') {
    const present = await chunkChecksum(db, track.id, index);
    if (present) return sameOrRefuse(present, sha256);
    throw new HttpError(409, 'take-sealed', 'This take is sealed; nothing can be added to it.');
  }
  const frameBytes = BYTES_PER_SAMPLE[track.format] * track.channels;
  const frames = samples.length / frameBytes;
  if (!Number.isInteger(frames) || frames < 1 || frames > CHUNK_FRAMES) {
    throw new HttpError(422, 'chunk-length', `A chunk of this track holds 1 to ${CHUNK_FRAMES} whole frames of ${frameBytes} bytes; ${samples.length} bytes came.`);
  }
  const { peaks, peak, sumOfSquares } = summarise(decodeSamples(track.format, track.channels, samples));
  const stored = await insertChunk(db, track.id, { index, frames, sha256, samples: Buffer.from(samples.buffer, samples.byteOffset, samples.length), peaks: Buffer.from(peaks.buffer), peak, sumOfSquares });
  return stored ? 'stored' : sameOrRefuse((await chunkChecksum(db, track.id, index)) ?? sha256, sha256);
}

function sameOrRefuse(present: Buffer, arriving: Buffer): 'already-stored' {
  if (present.equals(arriving)) return 'already-stored';
  throw new HttpError(409, 'chunk-conflict', 'Another chunk is already stored in this place; it was kept.');
}
