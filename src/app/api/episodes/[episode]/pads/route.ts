import { z } from '@/core/zod';
import { boardSchema } from '@/core/sounds/board';
import { database, inTransaction } from '@/server/database';
import { listPads, storePads } from '@/server/episodes/queries';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

/** Keeps the whole board of an episode, in its order. */
export const PUT = route({ right: 'work', params: episodeParams }, async ({ params, request, show }) => {
  const { pads } = await readJson(request, z.object({ pads: boardSchema }), 65536);
  await inTransaction(database(), (client) => storePads(client, params.episode, show, pads));
  return Response.json(await listPads(database(), params.episode));
});
