import { z } from '@/core/zod';
import { noteEvent } from '@/server/audit/events';
import { database, inTransaction } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { eraseGuest, listGuests } from '@/server/seats/erase-guest';

/** Whom the show has had as guests. */
export const GET = route({ right: 'members', params: showParams }, async ({ params }) => Response.json(await listGuests(database(), params.show)));

/** Erases everything of one of them: their voice, what was mixed with it, their messages and their name. */
export const DELETE = route({ right: 'members', params: showParams }, async ({ params, request, account }) => {
  const { name } = await readJson(request, z.strictObject({ name: z.string().min(1).max(400) }), 2048);
  const erasure = await inTransaction(database(), async (db) => {
    const done = await eraseGuest(db, params.show, name);
    await noteEvent(db, account, params.show, 'removal', `erased everything of a guest, in ${done.takes === 1 ? 'one take' : `${done.takes} takes`}`);
    return done;
  });
  return Response.json(erasure);
});
