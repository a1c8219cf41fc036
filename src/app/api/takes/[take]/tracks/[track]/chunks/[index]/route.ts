import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { chunkParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { chunkFrames } from '@/core/takes/chunks';
import { findTake, findTrack } from '@/server/takes/queries';
import { chunkOfTrack } from '@/server/takes/read-track';

/** The samples of one chunk of a sealed take, as they are stored. */
export const GET = route({ right: 'watch', params: chunkParams }, async ({ params }) => {
  const { length_samples } = await findTake(database(), params.take);
  const track = await findTrack(database(), params.take, params.track);
  if (length_samples === null) throw new HttpError(409, 'not-sealed', 'This take is still being recorded.');
  if (chunkFrames(length_samples, params.index) === 0) {
    throw new HttpError(404, 'not-found', 'The take ends before this chunk.');
  }
  const bytes = await chunkOfTrack(database(), track, length_samples, params.index);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=3600' },
  });
});
