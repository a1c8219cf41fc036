import { database } from '@/server/database';
import { loadDesk } from '@/server/episodes/load-desk';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { changeEpisode, episodeSchema } from '@/server/shows/queries';

/** Everything a desk shows of the episode. */
export const GET = route({ right: 'watch', params: episodeParams }, async ({ params, account, role }) =>
  Response.json(await loadDesk(database(), params.episode, { account: account.id, role })),
);

/** Changes the title, number or date of an episode. */
export const PUT = route({ right: 'invite', params: episodeParams }, async ({ params, request }) => {
  const episode = await readJson(request, episodeSchema, 4096);
  await changeEpisode(database(), params.episode, episode);
  return Response.json(episode);
});
