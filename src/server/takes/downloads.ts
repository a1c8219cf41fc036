import { createHash } from 'node:crypto';
import type pg from 'pg';
import { takeFileName } from '@/core/takes/file-name';
import type { Querier } from '../database';
import { findEpisode } from '../episodes/queries';
import { dayIn, namingOf } from '../exports/naming';
import { stretchOf, type RangedFile } from '../http/ranged-download';
import { findTake, findTrack } from './queries';
import { trackAsWav, wavFileBytes } from './read-track';
import { requireSealed } from './sealed';

/** One track as a WAV download. @throws {HttpError} 404; 409 while the take is open */
export async function trackDownload(pool: pg.Pool, takeId: string, trackId: string): Promise<RangedFile> {
  const take = await findTake(pool, takeId);
  const lengthSamples = requireSealed(take);
  const track = await findTrack(pool, takeId, trackId);
  const bytes = wavFileBytes(track, lengthSamples);
  return {
    name: `${(await namingOf(pool, take)).track(track)}.wav`,
    mediaType: 'audio/wav',
    bytes,
    // Nothing is added to a take that is sealed.
    tag: createHash('sha256').update(`${track.id} ${bytes}`).digest('hex'),
    pieces: (from, to) => stretchOf(trackAsWav(pool, track, lengthSamples), from, to),
  };
}

/** What files about a whole take are called, without an extension. @throws {HttpError} 404 */
export async function nameOfTake(db: Querier, takeId: string): Promise<string> {
  const take = await findTake(db, takeId);
  const { show, number, time_zone } = await findEpisode(db, take.episode_id);
  return takeFileName({ show, episode: number, take: take.number, date: dayIn(time_zone, take.started_at) });
}
