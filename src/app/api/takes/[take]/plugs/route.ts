import { takePlugsSchema } from '@/core/takes/plugs';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { keepPlugs } from '@/server/takes/plugs';

/** Keeps what was plugged in where while a take was recorded. May be sent again. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  await keepPlugs(database(), params.take, await readJson(request, takePlugsSchema, 100_000));
  return new Response(null, { status: 204 });
});
