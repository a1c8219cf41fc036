import type pg from 'pg';
import { CHUNK_FRAMES, chunkCount, chunkFrames } from '@/core/takes/chunks';
import type { TakePause } from '@/core/takes/pauses';
import type { HearingPlan } from '@/core/hearing/plan';
import { inTransaction } from '../database';
import { HttpError } from '../http/errors';
import { listChunks } from './chunk-store';
import { insertGap, insertPlanChange, listTracks, lockTake, markSealed, type Gap } from './queries';

export interface SealRequest {
  take: string;
  /** Length of every track; null to seal what has arrived, with silence for what has not. */
  lengthSamples: number | null;
  clockAtStart: number | null;
  clockAtCall: number | null;
  /** What the desk itself could not capture. */
  gaps: Gap[];
  pauses?: readonly TakePause[];
  /** Plans that came into force during the take. */
  planChanges?: { atSample: number; plan: HearingPlan }[];
}

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
    const present = new Map<string, number>();
    let furthest = 0;
    for (const { track, index, frames } of await listChunks(client, request.take)) {
      present.set(`${track}/${index}`, frames);
      furthest = Math.max(furthest, index * CHUNK_FRAMES + frames);
    }
    const length = request.lengthSamples ?? furthest;
    if (length < furthest) {
      throw new HttpError(409, 'length', `This take already holds ${furthest} samples; ${length} would cut it.`);
    }
    const missing = tracks.flatMap(({ id }) => missingIn(id, length, present));
    if (missing.length > 0 && request.lengthSamples !== null) {
      const issues = missing.map(({ track, atSample }) => ({
        path: `${track}/${Math.floor(atSample / CHUNK_FRAMES)}`,
        code: 'missing-chunk',
        message: 'has not arrived',
      }));
      throw new HttpError(409, 'chunks-missing', `${missing.length} chunks have not arrived yet.`, issues);
    }
    const trackIds = new Set(tracks.map(({ id }) => id));
    for (const gap of [...request.gaps, ...missing]) {
      if (!trackIds.has(gap.track)) throw new HttpError(422, 'gap', 'A gap names a track of another take.');
      await insertGap(client, gap);
    }
    for (const [place, { atSample, plan }] of (request.planChanges ?? []).entries()) {
      await insertPlanChange(client, request.take, place, atSample, plan);
    }
    await markSealed(client, request.take, { ...request, lengthSamples: length });
    return length;
  });
}

/** The stretches of a track for which no samples arrived. */
function missingIn(track: string, length: number, present: Map<string, number>): Gap[] {
  const gaps: Gap[] = [];
  for (let index = 0; index < chunkCount(length); index++) {
    const have = present.get(`${track}/${index}`) ?? 0;
    const want = chunkFrames(length, index);
    if (have < want) {
      gaps.push({
        track,
        atSample: index * CHUNK_FRAMES + have,
        lengthSamples: want - have,
        cause: 'not-received',
      });
    }
  }
  return gaps;
}
