import { z } from '@/core/zod';
import { database } from '@/server/database';
import { homeReport } from '@/server/home/receive-home';
import { homeParams } from '@/server/http/params';
import { homeRoute, readJson } from '@/server/http/route';

const samples = z.number().int().min(0).max(2 ** 40);
const loss = z.strictObject({ atSample: samples, lengthSamples: samples.min(1) });
const report = z.strictObject({ keptSamples: samples, ended: z.boolean(), losses: z.array(loss).max(1000) });

/** Hears how far a recording at home is, and that it has ended and all of it was sent. */
export const PUT = homeRoute(homeParams, async ({ home, request }) => {
  await homeReport(database(), home, await readJson(request, report, 65_536));
  return new Response(null, { status: 204 });
});
