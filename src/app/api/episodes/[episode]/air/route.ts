import { z } from '@/core/zod';
import { beginBroadcast, listBroadcasts } from '@/server/air/broadcasts';
import { database } from '@/server/database';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

/** What of the episode is on the air, and was. */
export const GET = route({ right: 'watch', params: episodeParams }, async ({ params }) => Response.json(await listBroadcasts(database(), params.episode)));

/** Goes on the air with a station of the show. */
export const POST = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const { station } = await readJson(request, z.object({ station: z.uuid() }), 1024);
  return Response.json(await beginBroadcast(database(), params.episode, station), { status: 201 });
});
