import { z } from 'zod';
import { removeMember } from '@/server/access/accounts';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** Takes a colleague off the show. */
export const DELETE = route({ right: 'members', params: showParams.extend({ account: z.uuid() }) }, async ({ params }) => {
  await removeMember(database(), params.show, params.account);
  return Response.json({ removed: params.account });
});
