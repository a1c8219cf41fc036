import { titleSchema } from '@/core/air/broadcast';
import { findBroadcast, listTitles, sayTitle } from '@/server/air/broadcasts';
import { titlesAsCsv } from '@/server/air/titles-table';
import { database } from '@/server/database';
import { broadcastParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

/** What listeners read from a sample on. */
export const POST = route({ right: 'work', params: broadcastParams }, async ({ params, request }) => {
  await sayTitle(database(), params.episode, params.broadcast, await readJson(request, titleSchema, 4096));
  return Response.json({ said: true });
});

/** All titles of a stream with their times, as a table. */
export const GET = route({ right: 'watch', params: broadcastParams }, async ({ params }) => {
  const { startedAt } = await findBroadcast(database(), params.episode, params.broadcast);
  return new Response(titlesAsCsv(await listTitles(database(), params.broadcast), startedAt), {
    headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': `attachment; filename="titles_${startedAt.slice(0, 10)}.csv"` },
  });
});
