import { z } from '@/core/zod';
import { MOST_IN_PARCEL, PARCEL_HEADER } from '@/core/takes/parcel';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { MOST_CHUNKS, takeParams } from '@/server/http/params';
import { check, readBytes, route } from '@/server/http/route';
import { receiveChunks } from '@/server/takes/receive-chunks';

/** The largest chunk: two channels of 32-bit float. Desks send parcels of up to 4 MiB; there is room for more. */
const LARGEST_CHUNK_BYTES = CHUNK_FRAMES * 2 * 4;
const LARGEST_PARCEL_BYTES = 8 * LARGEST_CHUNK_BYTES;

const parcelSchema = z
  .array(
    z.strictObject({
      track: z.uuid(),
      index: z.number().int().min(0).max(MOST_CHUNKS),
      sha256: z.string().regex(/^[0-9a-f]{64}$/i, 'must be a SHA-256, 64 hex digits'),
      bytes: z.number().int().min(1).max(LARGEST_CHUNK_BYTES),
    }),
  )
  .min(1)
  .max(MOST_IN_PARCEL);

/** Takes chunks of a take's tracks, all or none. They may be sent again, in any order. */
export const PUT = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  const entries = check(parcelSchema, parsed(request.headers.get(PARCEL_HEADER) ?? ''), PARCEL_HEADER);
  const body = await readBytes(request, LARGEST_PARCEL_BYTES);
  const announced = entries.reduce((sum, { bytes }) => sum + bytes, 0);
  if (announced !== body.length) throw new HttpError(422, 'checksum', `${announced} bytes were announced and ${body.length} came. Send it again.`);
  let at = 0;
  const chunks = entries.map(({ bytes, ...entry }) => ({ ...entry, samples: body.subarray(at, (at += bytes)) }));
  return Response.json({ results: await receiveChunks(database(), params.take, chunks) });
});

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new HttpError(400, 'not-json', `${PARCEL_HEADER} must say which chunks come, as JSON.`);
  }
}
