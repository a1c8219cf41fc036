import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { chunkParams } from '@/server/http/params';
import { readBytes, route } from '@/server/http/route';
import { CHUNK_FRAMES, chunkFrames } from '@/core/takes/chunks';
import { findTake, findTrack } from '@/server/takes/queries';
import { chunkOfTrack } from '@/server/takes/read-track';
import { receiveChunk } from '@/server/takes/receive-chunk';

/** The largest chunk: two channels of 32-bit float. */
const LARGEST_CHUNK_BYTES = CHUNK_FRAMES * 2 * 4;

/** Takes one chunk, with its SHA-256 in `x-chunk-sha256`. May be sent again, in any order. */
export const PUT = route({ right: 'record', params: chunkParams }, async ({ params, request }) => {
  const sha256 = request.headers.get('x-chunk-sha256') ?? '';
  if (!/^[0-9a-f]{64}$/i.test(sha256)) {
    throw new HttpError(400, 'no-checksum', 'x-chunk-sha256 must be the SHA-256 of the body, 64 hex digits.');
  }
  const samples = await readBytes(request, LARGEST_CHUNK_BYTES);
  return Response.json({ result: await receiveChunk(database(), { ...params, sha256, samples }) });
});

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
