import { z } from '@/core/zod';
import { database } from '@/server/database';
import { trackParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { findTake, findTrack } from '@/server/takes/queries';
import { trackPeaks } from '@/server/takes/read-track';

const sample = z.coerce.number().int().nonnegative();
const peaksQuery = z
  .object({ columns: z.coerce.number().int().min(1).max(8000).default(1000), from: sample.default(0), to: sample.optional() })
  .refine(({ from, to }) => to === undefined || to > from, 'The stretch must not be empty.');

/** The outline of a track or of a stretch of it: 16-bit pairs of lowest and highest sample, one pair a column. */
export const GET = route({ right: 'watch', params: trackParams, query: peaksQuery }, async ({ params, query }) => {
  const take = await findTake(database(), params.take);
  const track = await findTrack(database(), params.take, params.track);
  const length = take.length_samples ?? 0;
  const to = Math.min(query.to ?? length, length);
  const peaks = await trackPeaks(database(), track, length, { columns: query.columns, from: Math.min(query.from, to), to });
  return new Response(peaks, { headers: { 'content-type': 'application/octet-stream' } });
});
