import { lineCheckSchema } from '@/core/linecheck/line-check';
import { keepLineCheck } from '@/server/checks/line-checks';
import { database } from '@/server/database';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const LONGEST = 512 * 1024;

/** Keeps what a line check of an episode found. */
export const POST = route({ right: 'work', params: episodeParams }, async ({ params, request }) => {
  const check = await readJson(request, lineCheckSchema, LONGEST);
  await keepLineCheck(database(), params.episode, check);
  return Response.json({ kept: true }, { status: 201 });
});
