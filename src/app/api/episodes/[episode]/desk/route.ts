import { z } from '@/core/zod';
import { DESK } from '@/core/lines/messages';
import { database } from '@/server/database';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { takeWindow } from '@/server/windows/queries';

/** Makes a window the desk, whichever is it now; that one is told, and watches. */
export const POST = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const { window } = await readJson(request, z.strictObject({ window: z.uuid() }), 1024);
  await takeWindow(database(), { episode: params.episode, party: DESK, window });
  return Response.json({ window });
});
