import { z } from '@/core/zod';
import { lineReportSchema } from '@/core/lines/line-report';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { insertLineReports, listLineReports } from '@/server/takes/line-reports';

const reportsBody = z.object({
  reports: z
    .array(z.object({ seat: z.string().regex(/^[a-z0-9-]{1,40}$/), atSample: z.number().int().nonnegative(), report: lineReportSchema }))
    .max(1000),
});

/** Keeps what the lines were like while a take was recorded. May be sent again. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  const { reports } = await readJson(request, reportsBody, 1_000_000);
  await insertLineReports(database(), params.take, reports);
  return Response.json({ kept: reports.length });
});

export const GET = route({ right: 'watch', params: takeParams }, async ({ params }) =>
  Response.json(await listLineReports(database(), params.take)),
);
