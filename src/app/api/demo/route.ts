import { z } from '@/core/zod';
import { database, inTransaction } from '@/server/database';
import { openDemo } from '@/server/demo/own-demo';
import { noParams } from '@/server/http/params';
import { accountRoute, readJson } from '@/server/http/route';

/** Opens the demo beside one's own shows. */
export const POST = accountRoute({ params: noParams }, async ({ request, account }) => {
  await readJson(request, z.strictObject({}), 1024);
  return Response.json(await inTransaction(database(), (client) => openDemo(client, account)), { status: 201 });
});
