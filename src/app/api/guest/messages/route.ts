import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DESK, fromGuestSchema } from '@/core/lines/messages';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { guestRoute, readJson } from '@/server/http/route';
import { iceServers } from '@/server/message-box/ice';
import { postMessage } from '@/server/message-box/queries';
import { limitMessages, LONGEST_MESSAGE, resumeAfter, streamQuery } from '@/server/message-box/stream-query';
import { messageStream } from '@/server/message-box/stream';
import { claimWindow, holdsWindow, keepWindow, releaseWindow } from '@/server/windows/queries';

/** A guest's messages as server-sent events; the stream holds the seat for its window. */
export const GET = guestRoute({ query: streamQuery }, async ({ guest, query, request }) => {
  const { episode, seat } = guest;
  const pool = database();
  const stream = randomUUID();
  const after = resumeAfter(request, await claimWindow(pool, { episode, party: seat, window: query.window, stream, takeOver: query.takeOver }));
  return messageStream(pool, {
    episode,
    recipient: seat,
    after,
    greeting: { iceServers: iceServers(seat) },
    signal: request.signal,
    stillThere: () => keepWindow(pool, episode, seat, stream),
    onEnd: () => releaseWindow(pool, episode, seat, stream),
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
