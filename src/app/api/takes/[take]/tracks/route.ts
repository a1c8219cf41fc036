import { z } from '@/core/zod';
import { SAMPLE_FORMATS } from '@/core/formats/wav/sample-format';
import { MOST_TRACKS } from '@/core/limits';
import { RECORDED_KINDS } from '@/core/takes/track-kinds';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { addLateTracks } from '@/server/takes/late-tracks';

const tracksBody = z.strictObject({
  tracks: z
    .array(
      z.strictObject({
        id: z.uuid(),
        kind: z.enum(RECORDED_KINDS),
        recorded: z.string().regex(/^(program|[a-z]+:[a-z0-9-]{1,40})$/),
        name: z.string().trim().min(1).max(60),
        channels: z.union([z.literal(1), z.literal(2)]),
        format: z.enum(SAMPLE_FORMATS),
        fromSample: z.number().int().min(0).max(2 ** 40),
      }),
    )
    .min(1)
    .max(MOST_TRACKS),
});

/** Adds tracks to a take that is being recorded: of whoever came while it ran. May be sent again. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  const { tracks } = await readJson(request, tracksBody, 65_536);
  await addLateTracks(database(), params.take, tracks);
  return new Response(null, { status: 204 });
});
