import { z } from '@/core/zod';
import { revokeColleagueLink } from '@/server/access/accounts';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** Takes a colleague's link back before it is used. */
export const DELETE = route({ right: 'members', params: showParams.extend({ link: z.uuid() }) }, async ({ params }) => {
  await revokeColleagueLink(database(), params.show, params.link);
  return Response.json({ revoked: params.link });
});
