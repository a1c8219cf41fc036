import { database } from '@/server/database';
import { noParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** Says that the server answers and reaches its database. */
export const GET = route({ params: noParams }, async () => {
  await database().query('select 1');
  return Response.json({ ok: true });
});
