import { z } from '@/core/zod';
import { MOST_TRACKS } from '@/core/limits';
import { SAMPLE_FORMATS } from '@/core/formats/wav/sample-format';
import { hearingPlanSchema } from '@/core/hearing/plan-schema';
import { keptHandsSchema } from '@/core/takes/plan-log';
import { leftOutSchema } from '@/core/takes/pauses';
import { RECORDED_KINDS } from '@/core/takes/track-kinds';
import { database } from '@/server/database';
import { episodeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { beginTake } from '@/server/takes/begin-take';

const takeBody = z.object({
  tracks: z
    .array(
      z.object({
        kind: z.enum(RECORDED_KINDS),
        recorded: z.string().regex(/^(program|[a-z]+:[a-z0-9-]{1,40})$/),
        name: z.string().trim().min(1).max(60),
        channels: z.union([z.literal(1), z.literal(2)]),
        format: z.enum(SAMPLE_FORMATS),
      }),
    )
    .min(1)
    .max(MOST_TRACKS),
  notRecorded: z.array(leftOutSchema).max(MOST_TRACKS).default([]),
  /** What the desk has in force now: the server's copy follows it a moment later. */
  plan: hearingPlanSchema,
  hands: keptHandsSchema,
});

/** Begins a take with the given tracks. */
export const POST = route({ right: 'record', params: episodeParams }, async ({ params, request }) => {
  const { tracks, notRecorded, plan, hands } = await readJson(request, takeBody);
  return Response.json(await beginTake(database(), params.episode, tracks, notRecorded, { plan, hands }), { status: 201 });
});
