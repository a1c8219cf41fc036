import { listenTo } from '@/server/air/listen';
import { database } from '@/server/database';
import { broadcastParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** The stream as the station's server gives it to its listeners. */
export const GET = route({ right: 'watch', params: broadcastParams }, async ({ params, request }) => listenTo(database(), params.episode, params.broadcast, request.signal));
