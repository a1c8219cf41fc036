import { z } from '@/core/zod';
import { hearingPlanSchema } from '@/core/hearing/plan-schema';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { listNamedPlans, storeNamedPlan } from '@/server/plans/queries';

const namedPlanBody = z.object({ name: z.string().trim().min(1).max(60), plan: hearingPlanSchema });

export const GET = route({ right: 'watch', params: showParams }, async ({ params }) =>
  Response.json(await listNamedPlans(database(), params.show)),
);

/** Keeps a plan as a starting point for episodes of the show. */
export const PUT = route({ right: 'work', params: showParams }, async ({ params, request }) => {
  const named = await readJson(request, namedPlanBody);
  await storeNamedPlan(database(), params.show, named);
  return Response.json({ name: named.name });
});
