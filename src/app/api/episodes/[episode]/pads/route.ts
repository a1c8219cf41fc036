import { z } from 'zod';
import { KEY_PATTERN } from '@/core/session/desk-actions';
import { HIGHEST_DB, LOWEST_DB } from '@/core/hearing/plan';
import { database, inTransaction } from '@/server/database';
import { listPads, storePads } from '@/server/episodes/queries';
import { deskPad } from '@/server/episodes/load-desk';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const padsBody = z.object({
  pads: z
    .array(
      z.object({
        sound: z.uuid(),
        player: z.string().regex(/^[a-z0-9-]{1,40}$/),
        key: z.string().regex(KEY_PATTERN, 'must be one key that types something, in lower case'),
        loops: z.boolean(),
        levelDb: z.number().min(LOWEST_DB).max(HIGHEST_DB),
      }),
    )
    .max(64)
    .refine((pads) => new Set(pads.map(({ key }) => key)).size === pads.length, 'must not give two pads one key')
    .refine((pads) => new Set(pads.map(({ sound }) => sound)).size === pads.length, 'must not hold one sound twice'),
});

/** Keeps the whole board of an episode, in its order. */
export const PUT = route({ right: 'work', params: episodeParams }, async ({ params, request, show }) => {
  const { pads } = await readJson(request, padsBody, 65536);
  await inTransaction(database(), (client) => storePads(client, params.episode, show, pads));
  return Response.json((await listPads(database(), params.episode)).map(deskPad));
});
