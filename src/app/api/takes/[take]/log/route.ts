import { z } from '@/core/zod';
import { GAP_CAUSES } from '@/core/takes/gaps';
import { placedPlanSchema } from '@/core/takes/plan-log';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { keepLog } from '@/server/takes/take-log';

const samples = z.number().int().nonnegative();
/** Written down by the audio thread: what was in force from which sample on, and what was lost. A part at a time. */
const logBody = z.strictObject({
  plans: z.array(placedPlanSchema).max(50).default([]),
  gaps: z
    .array(z.strictObject({ track: z.uuid(), atSample: samples, lengthSamples: samples.positive(), cause: z.enum(GAP_CAUSES) }))
    .max(1000)
    .default([]),
});

/** Keeps part of the log of a take that is being recorded. May be sent again. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  await keepLog(database(), params.take, await readJson(request, logBody, 2 ** 23));
  return new Response(null, { status: 204 });
});
