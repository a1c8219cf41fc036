import { z } from '@/core/zod';
import { noteEvent } from '@/server/audit/events';
import { database, inTransaction } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { removeShow } from '@/server/shows/remove';

/** Removes a show with everything in it. */
export const DELETE = route({ right: 'members', params: showParams }, async ({ params, request, account }) => {
  const { withTakes } = await readJson(request, z.strictObject({ withTakes: z.boolean() }), 1024);
  await inTransaction(database(), async (db) => {
    const name = await removeShow(db, params.show, withTakes);
    await noteEvent(db, account, null, 'removal', `removed the show ${name}`);
  });
  return Response.json({ removed: params.show });
});
