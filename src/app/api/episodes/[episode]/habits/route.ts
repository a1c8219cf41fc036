import { ownHabitsSchema } from '@/core/session/habits';
import { database } from '@/server/database';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { storeOwnHabits } from '@/server/shows/habits';

/** Keeps what one episode does otherwise than its show. */
export const PUT = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const habits = await readJson(request, ownHabitsSchema, 4096);
  await storeOwnHabits(database(), params.episode, habits);
  return Response.json(habits);
});
