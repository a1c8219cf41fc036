import { z } from '@/core/zod';
import { database, inTransaction } from '@/server/database';
import { putDemoAway } from '@/server/demo/own-demo';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const body = z.object({ withTakes: z.boolean() });

/** Puts a demo away. */
export const DELETE = route({ right: 'members', params: showParams }, async ({ params, request }) => {
  const { withTakes } = await readJson(request, body, 1024);
  await inTransaction(database(), (client) => putDemoAway(client, params.show, withTakes));
  return new Response(null, { status: 204 });
});
