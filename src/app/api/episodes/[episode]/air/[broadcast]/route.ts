import { endBroadcast, findBroadcast } from '@/server/air/broadcasts';
import { database } from '@/server/database';
import { broadcastParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { z } from '@/core/zod';

export const GET = route({ right: 'watch', params: broadcastParams }, async ({ params }) => Response.json(await findBroadcast(database(), params.episode, params.broadcast)));

/** Takes it off the air, and says why. */
export const DELETE = route({ right: 'work', params: broadcastParams, query: z.object({ why: z.string().max(200).default('The host took it off the air.') }) }, async ({ params, query }) =>
  Response.json(await endBroadcast(database(), params.episode, params.broadcast, query.why)),
);
