import type pg from 'pg';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import type { TakePause } from '@/core/takes/pauses';
import { inTransaction } from '../database';
import { HttpError } from '../http/errors';
import { listChunks } from './chunk-store';
import { insertGap, listTracks, lockTake, markSealed, type Gap, type TrackRow } from './queries';
import { keepGaps } from './take-log';

export interface SealRequest {
  take: string;
  /** Length of every track; null to seal what has arrived, with silence for what has not. */
  lengthSamples: number | null;
  clockAtStart: number | null;
  clockAtCall: number | null;
  /** What the desk itself could not capture. */
  gaps: Gap[];
  pauses?: readonly TakePause[];
}

/** Samples of a track that arrived. */
interface StoredSpan {
  from: number;
  to: number;
}

/** So many of what is missing are named; they are sent again one after another anyway. */
const MOST_NAMED = 100;
/** A take may be said to be so much longer than what has arrived of it: what else could be under way. */
const MOST_UNDER_WAY = 12 * 3600 * 48_000;

/**
 * Closes a take: from then on all its tracks have the same length and nothing can be added.
 * Sealing again with the same length is fine.
 * @throws {HttpError} 409 when chunks are still missing, or the take is sealed at another length
 */
export async function sealTake(pool: pg.Pool, request: SealRequest): Promise<number> {
  return inTransaction(pool, async (client) => {
    const take = await lockTake(client, request.take, 'alone');
    if (take.state === 'sealed') {
      if (request.lengthSamples === null || request.lengthSamples === take.length_samples) {
        return take.length_samples ?? 0;
      }
      throw new HttpError(409, 'take-sealed', `This take is sealed at ${take.length_samples} samples.`);
    }
    const tracks = await listTracks(client, request.take);
    const present = new Map(tracks.map(({ id }): [string, StoredSpan[]] => [id, []]));
    let furthest = 0;
    for (const { track, index, frames } of await listChunks(client, request.take)) {
      const from = index * CHUNK_FRAMES;
      present.get(track)?.push({ from, to: from + frames });
      furthest = Math.max(furthest, from + frames);
    }
    const length = request.lengthSamples ?? furthest;
    if (length < furthest) {
      throw new HttpError(409, 'length', `This take already holds ${furthest} samples; ${length} would cut it.`);
    }
    if (length - furthest > MOST_UNDER_WAY) {
      throw new HttpError(422, 'length', `${furthest} samples of this take have arrived; ${length} cannot be its length.`);
    }
    const missing = tracks.flatMap((track) => missingIn(track, length, present));
    if (missing.length > 0 && request.lengthSamples !== null) {
      const issues = missing.slice(0, MOST_NAMED).map(({ track, atSample }) => ({
        path: `${track}/${Math.floor(atSample / CHUNK_FRAMES)}`,
        code: 'missing-chunk',
        message: 'has not arrived',
      }));
      throw new HttpError(409, 'chunks-missing', `${missing.length} stretches have not arrived yet.`, issues);
    }
    await keepGaps(client, request.take, request.gaps);
    for (const gap of missing) await insertGap(client, gap);
    await markSealed(client, request.take, { ...request, lengthSamples: length });
    return length;
  });
}

/** The stretches of a track for which no samples arrived, each as long as it can be: their number is bounded by the chunks there are. */
function missingIn({ id: track, from_sample }: TrackRow, length: number, present: ReadonlyMap<string, readonly StoredSpan[]>): Gap[] {
  const gaps: Gap[] = [];
  // Before a track that was added late there is nothing that could arrive.
  let at = CHUNK_FRAMES * Math.floor(from_sample / CHUNK_FRAMES);
  for (const { from, to } of present.get(track) ?? []) {
    if (from > at) gaps.push({ track, atSample: at, lengthSamples: from - at, cause: 'not-received' });
    at = Math.max(at, to);
  }
  if (at < length) gaps.push({ track, atSample: at, lengthSamples: length - at, cause: 'not-received' });
  return gaps;
}
