import { database } from '@/server/database';
import { noParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { keysSchema, storeKeys } from '@/server/keys/queries';

/** Keeps the host's keys; refused when two actions would share one. */
export const PUT = route({ params: noParams }, async ({ request }) => {
  const keys = await readJson(request, keysSchema);
  await storeKeys(database(), keys);
  return Response.json(keys);
});
