import { z } from '@/core/zod';
import { noteEvent } from '@/server/audit/events';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { describeTake, setBinned } from '@/server/takes/bin';
import { findTake } from '@/server/takes/queries';
import { loadTake } from '@/server/takes/load-take';

/** A take with its tracks and what was measured of them. */
export const GET = route({ right: 'watch', params: takeParams }, async ({ params }) => Response.json(await loadTake(database(), params.take)));

const change = z.strictObject({ name: z.string().trim().max(80).optional(), note: z.string().trim().max(2000).optional(), binned: z.boolean().optional() });

/** Names a take, notes something about it, puts it into the bin or takes it out again. */
export const PATCH = route({ right: 'record', params: takeParams }, async ({ params, request, account, show }) => {
  const { binned, ...words } = await readJson(request, change, 16_384);
  await describeTake(database(), params.take, words);
  if (binned !== undefined) {
    await setBinned(database(), params.take, binned);
    const { number } = await findTake(database(), params.take);
    await noteEvent(database(), account, show, 'removal', binned ? `put take ${number} into the bin` : `took take ${number} out of the bin`);
  }
  return new Response(null, { status: 204 });
});
