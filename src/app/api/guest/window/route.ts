import { z } from '@/core/zod';
import { database } from '@/server/database';
import { guestRoute, readJson } from '@/server/http/route';
import { takeWindow } from '@/server/windows/queries';

/** Uses a guest's link in this window, whichever has it now; that one is told, and falls silent. */
export const POST = guestRoute({}, async ({ guest, request }) => {
  const { window } = await readJson(request, z.strictObject({ window: z.uuid() }), 1024);
  await takeWindow(database(), { episode: guest.episode, party: guest.seat, window });
  return Response.json({ window });
});
