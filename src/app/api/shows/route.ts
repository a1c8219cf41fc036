import { z } from 'zod';
import { database, inTransaction } from '@/server/database';
import { noParams } from '@/server/http/params';
import { accountRoute, readJson } from '@/server/http/route';
import { insertShow } from '@/server/shows/queries';

const showBody = z.object({ name: z.string().trim().min(1).max(80) });

/** Makes a show; whoever makes it owns it. */
export const POST = accountRoute({ params: noParams }, async ({ request, account }) => {
  const { name } = await readJson(request, showBody, 4096);
  const show = await inTransaction(database(), (client) => insertShow(client, account, name));
  return Response.json({ show }, { status: 201 });
});
