import { z } from '@/core/zod';
import { pauseSchema } from '@/core/takes/pauses';
import { database } from '@/server/database';
import { placeHomes } from '@/server/home/receive-home';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { askFor } from '@/server/jobs/ask-for';
import { GAP_CAUSES } from '@/core/takes/gaps';
import { sealTake } from '@/server/takes/seal-take';

const samples = z.number().int().min(0).max(2 ** 40);

const sealBody = z.object({
  /** Null seals what has arrived, with silence for what has not. */
  lengthSamples: samples.nullable(),
  clockAtStart: samples.nullable().default(null),
  clockAtCall: samples.nullable().default(null),
  pauses: z.array(pauseSchema).max(20_000).default([]),
  gaps: z
    .array(z.object({ track: z.uuid(), atSample: samples, lengthSamples: samples.min(1), cause: z.enum(GAP_CAUSES).default('ring-overrun') }))
    .max(1000)
    .default([]),
});

/** Closes a take: all its tracks then have the same length, and nothing can be added. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  const body = await readJson(request, sealBody, 2 ** 21);
  const lengthSamples = await sealTake(database(), { ...body, take: params.take });
  // What is wrong with it is found now, not when it is edited.
  await askFor(database(), params.take, { kind: 'check', params: {} });
  await placeHomes(database(), params.take);
  return Response.json({ lengthSamples });
});
