import { z } from '@/core/zod';
import { database } from '@/server/database';
import { setCallRunning } from '@/server/episodes/queries';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const callBody = z.object({ running: z.boolean() });

/** Notes whether the call runs, so that a reloaded desk takes it up again. */
export const PUT = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const { running } = await readJson(request, callBody);
  await setCallRunning(database(), params.episode, running);
  return Response.json({ running });
});
