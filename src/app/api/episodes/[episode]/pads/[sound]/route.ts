import { z } from '@/core/zod';
import { HIGHEST_DB, LOWEST_DB } from '@/core/hearing/plan';
import { database } from '@/server/database';
import { setPadLevel } from '@/server/episodes/queries';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const padBody = z.object({ levelDb: z.number().min(LOWEST_DB).max(HIGHEST_DB) });

/** Keeps the level of a pad. */
export const PUT = route({ right: 'work', params: episodeParams.extend({ sound: z.uuid() }) }, async ({ params, request }) => {
  const { levelDb } = await readJson(request, padBody);
  await setPadLevel(database(), params.episode, params.sound, levelDb);
  return Response.json({ levelDb });
});
