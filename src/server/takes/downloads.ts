import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { takeFileName } from '@/core/takes/file-name';
import type { Querier } from '../database';
import { findEpisode } from '../episodes/queries';
import { dayIn, namingOf } from '../exports/naming';
import { HttpError } from '../http/errors';
import { findTake, findTrack, listTracks, type TakeRow } from './queries';
import { trackAsWav, wavFileBytes } from './read-track';

/** One track as a WAV download. */
export async function trackDownload(db: Querier, takeId: string, trackId: string): Promise<Response> {
  const take = await findTake(db, takeId);
  const lengthSamples = requireSealed(take);
  const track = await findTrack(db, takeId, trackId);
  const name = `${(await namingOf(db, take)).track(track)}.wav`;
  const bytes = Readable.from(trackAsWav(db, track, lengthSamples), { objectMode: false });
  return download(bytes, 'audio/wav', name, wavFileBytes(track, lengthSamples));
}

/** All tracks of a take in one ZIP, stored as they are: sound gains nothing from deflating. */
export async function takeDownload(db: Querier, takeId: string): Promise<Response> {
  const take = await findTake(db, takeId);
  const lengthSamples = requireSealed(take);
  const tracks = await listTracks(db, takeId);
  const naming = await namingOf(db, take);
  const zip = new ZipFile();
  for (const track of tracks) {
    const path = `${naming.track(track)}.wav`;
    // Each track is opened only when its turn comes, so one chunk at a time is in memory.
    zip.addReadStreamLazy(path, { compress: false, mtime: take.started_at, size: wavFileBytes(track, lengthSamples) }, (give) =>
      give(null, Readable.from(trackAsWav(db, track, lengthSamples), { objectMode: false })),
    );
  }
  const length = await new Promise<number>((resolve) => zip.end(undefined, resolve as () => void));
  // The length is known where all sizes are; −1 says that it is not.
  return download(zip.outputStream as Readable, 'application/zip', `${await nameOfTake(db, takeId)}.zip`, length < 0 ? null : length);
}

/** What files about a whole take are called, without an extension. @throws {HttpError} 404 */
export async function nameOfTake(db: Querier, takeId: string): Promise<string> {
  const take = await findTake(db, takeId);
  const { show, number, time_zone } = await findEpisode(db, take.episode_id);
  return takeFileName({ show, episode: number, take: take.number, date: dayIn(time_zone, take.started_at) });
}

/** Length of a take that is complete. @throws {HttpError} 409 */
export function requireSealed(take: TakeRow): number {
  if (take.length_samples === null) {
    throw new HttpError(409, 'not-sealed', 'This take is still being recorded. Stop it first.');
  }
  return take.length_samples;
}

function download(stream: Readable, type: string, name: string, length: number | null): Response {
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store',
      ...(length === null ? {} : { 'content-length': String(length) }),
    },
  });
}
