import { z } from '@/core/zod';
import { removeMember } from '@/server/access/accounts';
import { database, inTransaction } from '@/server/database';
import { showParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** Takes a colleague off the show. */
export const DELETE = route({ right: 'members', params: showParams.extend({ account: z.uuid() }) }, async ({ params }) => {
  await inTransaction(database(), (client) => removeMember(client, params.show, params.account));
  return Response.json({ removed: params.account });
});
