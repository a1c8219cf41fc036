import { database } from '@/server/database';
import { noParams } from '@/server/http/params';
import { accountRoute, readJson } from '@/server/http/route';
import { keysSchema, storeKeys } from '@/server/keys/queries';

/** Keeps the host's keys; refused when two actions would share one. */
export const PUT = accountRoute({ params: noParams }, async ({ request, account }) => {
  const keys = await readJson(request, keysSchema);
  await storeKeys(database(), account.id, keys);
  return Response.json(keys);
});
