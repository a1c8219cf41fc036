import { z } from '@/core/zod';
import { hearingPlanSchema } from '@/core/hearing/plan-schema';
import { database } from '@/server/database';
import { findPlan, storePlan } from '@/server/episodes/queries';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const planBody = z.object({ version: z.number().int().positive(), plan: hearingPlanSchema });

export const GET = route({ right: 'watch', params: episodeParams }, async ({ params }) =>
  Response.json(await findPlan(database(), params.episode)),
);

/** Stores a changed plan; refused when another window stored one since `version`. */
export const PUT = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const { version, plan } = await readJson(request, planBody);
  return Response.json({ version: await storePlan(database(), params.episode, version, plan) });
});
