import { database } from '@/server/database';
import { readiness } from '@/server/health/readiness';
import { openRoute } from '@/server/http/route';

/** Whether a show can go on here: 503 while something that is needed is missing, with what it is. */
export const GET = openRoute(async () => {
  const state = await readiness(database());
  return Response.json(state, { status: state.ready ? 200 : 503 });
});
