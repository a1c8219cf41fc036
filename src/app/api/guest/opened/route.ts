import { markOpened } from '@/server/access/invitations';
import { database } from '@/server/database';
import { guestRoute } from '@/server/http/route';

/** A person's browser shows the link's page: programs that only fetch it for a preview do not say so. */
export const POST = guestRoute({}, async ({ guest }) => {
  await markOpened(database(), guest.episode, guest.seat);
  return new Response(null, { status: 204 });
});
