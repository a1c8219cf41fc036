import { z } from '@/core/zod';
import { noteEvent } from '@/server/audit/events';
import { database, inTransaction } from '@/server/database';
import { loadDesk } from '@/server/episodes/load-desk';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { changeEpisode, episodeSchema } from '@/server/shows/queries';
import { removeEpisode } from '@/server/shows/remove';

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

/** Removes an episode with everything in it; its takes only where that was said. */
export const DELETE = route({ right: 'members', params: episodeParams }, async ({ params, request, account, show }) => {
  const { withTakes } = await readJson(request, z.strictObject({ withTakes: z.boolean() }), 1024);
  await inTransaction(database(), async (db) => {
    const title = await removeEpisode(db, params.episode, withTakes);
    await noteEvent(db, account, show, 'removal', `removed the episode ${title}`);
  });
  return Response.json({ removed: params.episode });
});
