import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import { database } from '@/server/database';
import { receiveHomeChunk } from '@/server/home/receive-home';
import { HttpError } from '@/server/http/errors';
import { homeChunkParams } from '@/server/http/params';
import { homeRoute, readBytes } from '@/server/http/route';

/** The largest chunk: one channel of 32-bit float. */
const LARGEST_BYTES = HOME_CHUNK_FRAMES * 4;

/** Takes one chunk of a recording at home, with its SHA-256 in `x-chunk-sha256`. May be sent again, in any order. */
export const PUT = homeRoute(homeChunkParams, async ({ home, params, request }) => {
  const sha256 = request.headers.get('x-chunk-sha256') ?? '';
  if (!/^[0-9a-f]{64}$/i.test(sha256)) throw new HttpError(400, 'no-checksum', 'x-chunk-sha256 must be the SHA-256 of the body, 64 hex digits.');
  await receiveHomeChunk(database(), home, params.index, sha256, await readBytes(request, LARGEST_BYTES));
  return new Response(null, { status: 204 });
});
