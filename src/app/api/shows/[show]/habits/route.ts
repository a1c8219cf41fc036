import { habitsSchema } from '@/core/session/habits';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { storeHabits } from '@/server/shows/habits';

/** Keeps how a show's desks behave. */
export const PUT = route({ right: 'work', params: showParams }, async ({ params, request }) => {
  const habits = await readJson(request, habitsSchema, 4096);
  await storeHabits(database(), params.show, habits);
  return Response.json(habits);
});
