import { z } from '@/core/zod';
import { mayIn, type Right } from '@/core/access/rights';
import { DESK, forWatchersSchema, fromDeskSchema, WATCHERS } from '@/core/lines/messages';
import { requireAccount, requireRight } from '@/server/access/who';
import { database } from '@/server/database';
import { listSeats } from '@/server/episodes/queries';
import { HttpError } from '@/server/http/errors';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { iceServers, relayUser } from '@/server/message-box/ice';
import { newestMessage, postMessage } from '@/server/message-box/queries';
import { limitMessages, LONGEST_MESSAGE, resumeAfter, streamQuery } from '@/server/message-box/stream-query';
import { claimedStream } from '@/server/message-box/claimed-stream';
import { messageStream } from '@/server/message-box/stream';
import { holdsWindow, openWindows } from '@/server/windows/queries';

const deskQuery = streamQuery.extend({ as: z.enum(['desk', 'watcher']) });

/**
 * The desk's messages as server-sent events; the stream holds the desk for its window. A watcher's
 * stream holds nothing and hears what the desk tells.
 */
export const GET = route({ right: 'watch', params: episodeParams, query: deskQuery }, async ({ params, query, request, role }) => {
  const { episode } = params;
  const pool = database();
  const { signal } = request;
  /** Signing out, another role or no membership any more end the stream at the next beat. */
  const stillMay = async (right: Right): Promise<boolean> => {
    try {
      await requireRight(pool, await requireAccount(pool, request.headers), right, { episode });
      return true;
    } catch (error) {
      if (error instanceof HttpError) return false;
      throw error;
    }
  };
  if (query.as === 'watcher') {
    const after = resumeAfter(request, await newestMessage(pool, episode));
    const recipient = WATCHERS;
    return messageStream(pool, { episode, recipient, after, greeting: {}, signal, stillThere: () => stillMay('watch'), onEnd: async () => undefined });
  }
  if (!mayIn(role, 'work')) throw new HttpError(403, 'not-allowed', 'You may watch this desk, not work it.');
  const relay = () => ({ iceServers: iceServers(relayUser(episode, DESK)) });
  return claimedStream(pool, {
    request,
    claim: { episode, party: DESK, window: query.window },
    greeting: async () => ({ windows: await openWindows(pool, episode), ...relay() }),
    renew: relay,
    mayStay: () => stillMay('work'),
  });
});

const deskMessage = z.union([
  z.object({ window: z.uuid(), to: z.string().regex(/^[a-z0-9-]{1,40}$/), body: fromDeskSchema }),
  z.object({ window: z.uuid(), to: z.literal(WATCHERS), body: forWatchersSchema }),
]);

/** Takes a message from the desk to one of its seats, or to its watchers. */
export const POST = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const { window, to, body } = await readJson(request, deskMessage, LONGEST_MESSAGE);
  const { episode } = params;
  if (!(await holdsWindow(database(), episode, DESK, window))) {
    throw new HttpError(409, 'not-the-desk', 'Another window is the desk now.');
  }
  const known = to === WATCHERS || (await listSeats(database(), episode)).some(({ id }) => id === to);
  if (!known) throw new HttpError(404, 'not-found', 'There is no such seat here.');
  await limitMessages(database(), episode, DESK);
  return Response.json({ id: await postMessage(database(), { episode, sender: DESK, recipient: to, body }) });
});
