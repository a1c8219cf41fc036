import { z } from 'zod';
import { database } from '@/server/database';
import { route } from '@/server/http/route';
import { findSoundFile } from '@/server/sounds/queries';

/** A sound's file as it was given. */
export const GET = route({ right: 'watch', params: z.object({ sound: z.uuid() }) }, async ({ params }) => {
  const { media_type, audio } = await findSoundFile(database(), params.sound);
  return new Response(new Uint8Array(audio), {
    headers: { 'content-type': media_type, 'cache-control': 'private, max-age=31536000, immutable' },
  });
});
