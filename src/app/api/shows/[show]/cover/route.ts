import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readBytes, route } from '@/server/http/route';
import { findCover, pictureType, storeCover } from '@/server/shows/cover';

const LARGEST_COVER_BYTES = 4_000_000;

/** The picture that a show's finished MP3 files carry; nothing while it has none. */
export const GET = route({ right: 'watch', params: showParams }, async ({ params }) => {
  const cover = await findCover(database(), params.show);
  if (!cover) return new Response(null, { status: 204 });
  return new Response(new Uint8Array(cover.bytes), { headers: { 'content-type': cover.mediaType, 'cache-control': 'private, no-cache' } });
});

/** Keeps another picture: PNG or JPEG in the body. */
export const PUT = route({ right: 'record', params: showParams }, async ({ params, request }) => {
  const bytes = await readBytes(request, LARGEST_COVER_BYTES);
  await storeCover(database(), params.show, { bytes: Buffer.from(bytes), mediaType: pictureType(bytes) });
  return new Response(null, { status: 204 });
});

export const DELETE = route({ right: 'record', params: showParams }, async ({ params }) => {
  await storeCover(database(), params.show, null);
  return new Response(null, { status: 204 });
});
