import { Readable } from 'node:stream';
import { z } from '@/core/zod';
import { database } from '@/server/database';
import { route } from '@/server/http/route';
import { findSoundFile, soundPieces } from '@/server/sounds/sound-file';

/** A sound's file as it was given. */
export const GET = route({ right: 'watch', params: z.object({ sound: z.uuid() }) }, async ({ params }) => {
  const { mediaType, bytes } = await findSoundFile(database(), params.sound);
  const body = Readable.toWeb(Readable.from(soundPieces(database(), params.sound), { objectMode: false })) as ReadableStream;
  return new Response(body, {
    headers: { 'content-type': mediaType, 'content-length': String(bytes), 'cache-control': 'private, max-age=31536000, immutable' },
  });
});
