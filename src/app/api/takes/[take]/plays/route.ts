import { z } from '@/core/zod';
import { reportedPlaySchema } from '@/core/takes/plays';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { insertPlays, listPlays, playsAsCsv } from '@/server/takes/plays';
import { nameOfTake } from '@/server/takes/downloads';

const playsBody = z.object({ plays: z.array(reportedPlaySchema).max(1000) });

/** Keeps what was played during a take. May be sent again. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request, show }) => {
  const { plays } = await readJson(request, playsBody, 1_000_000);
  await insertPlays(database(), params.take, show, plays);
  return Response.json({ kept: plays.length });
});

/** The log of what was played, as a table. */
export const GET = route({ right: 'watch', params: takeParams }, async ({ params }) => {
  const plays = await listPlays(database(), params.take);
  return new Response(playsAsCsv(plays), {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="${await nameOfTake(database(), params.take)}_sounds-played.csv"`,
    },
  });
});
