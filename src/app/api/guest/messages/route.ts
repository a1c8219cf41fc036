import { z } from '@/core/zod';
import { DESK, fromGuestSchema } from '@/core/lines/messages';
import { requireGuest } from '@/server/access/who';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { guestRoute, readJson } from '@/server/http/route';
import { iceServers, relayUser } from '@/server/message-box/ice';
import { postMessage } from '@/server/message-box/queries';
import { limitMessages, LONGEST_MESSAGE, streamQuery } from '@/server/message-box/stream-query';
import { claimedStream } from '@/server/message-box/claimed-stream';
import { holdsWindow } from '@/server/windows/queries';

/** A guest's messages as server-sent events; the stream holds the seat for its window. */
export const GET = guestRoute({ query: streamQuery }, async ({ guest, query, request }) => {
  const { episode, seat } = guest;
  const relay = () => ({ iceServers: iceServers(relayUser(episode, seat)) });
  return claimedStream(database(), {
    request,
    claim: { episode, party: seat, window: query.window },
    greeting: async () => relay(),
    renew: relay,
    mayStay: () => requireGuest(database(), request.headers).then(() => true, (error) => {
      if (error instanceof HttpError) return false;
      throw error;
    }),
  });
});

const guestMessage = z.object({ window: z.uuid(), body: fromGuestSchema });

/** Takes a message from a guest to the desk. */
export const POST = guestRoute({}, async ({ guest, request }) => {
  const { episode, seat } = guest;
  const { window, body } = await readJson(request, guestMessage, LONGEST_MESSAGE);
  if (!(await holdsWindow(database(), episode, seat, window))) {
    throw new HttpError(409, 'open-elsewhere', 'This link is in use in another window.');
  }
  await limitMessages(database(), episode, seat);
  return Response.json({ id: await postMessage(database(), { episode, sender: seat, recipient: DESK, body }) });
});
