import { database } from '@/server/database';
import { openRoute } from '@/server/http/route';

/** Says that the server answers and reaches its database. */
export const GET = openRoute(async () => {
  await database().query('select 1');
  return Response.json({ ok: true });
});
