import { takenInSchema } from '@/core/takes/take-package';
import { noteEvent } from '@/server/audit/events';
import { database } from '@/server/database';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { beginTakenIn } from '@/server/takes/take-in';

/** Begins a take from the manifest of its package; its chunks, log and seal follow as a desk sends them. */
export const POST = route({ right: 'record', params: episodeParams }, async ({ params, request, account, show }) => {
  const begun = await beginTakenIn(database(), params.episode, await readJson(request, takenInSchema, 2 ** 23));
  await noteEvent(database(), account, show, 'take', `took in a take from elsewhere, as take ${begun.number}`);
  return Response.json(begun, { status: 201 });
});
