import { database, inTransaction } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { episodeSchema, insertEpisode } from '@/server/shows/queries';

/** Makes an episode, with the host and the pads of the show's newest one. */
export const POST = route({ right: 'invite', params: showParams }, async ({ params, request, account }) => {
  const episode = await readJson(request, episodeSchema, 4096);
  const id = await inTransaction(database(), (client) => insertEpisode(client, params.show, account, episode));
  return Response.json({ episode: id }, { status: 201 });
});
