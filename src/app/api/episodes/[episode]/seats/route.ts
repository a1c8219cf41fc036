import { database, inTransaction } from '@/server/database';
import { deskSeat } from '@/server/episodes/load-desk';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { addSeat, newSeatSchema } from '@/server/seats/queries';

/** Gives somebody a place in the episode. */
export const POST = route({ right: 'invite', params: episodeParams }, async ({ params, request }) => {
  const seat = await readJson(request, newSeatSchema, 4096);
  return Response.json(deskSeat(await inTransaction(database(), (client) => addSeat(client, params.episode, seat))), { status: 201 });
});
