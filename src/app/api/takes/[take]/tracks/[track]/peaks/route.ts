import { z } from 'zod';
import { database } from '@/server/database';
import { trackParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { findTake, findTrack } from '@/server/takes/queries';
import { trackPeaks } from '@/server/takes/read-track';

const peaksQuery = z.object({ columns: z.coerce.number().int().min(1).max(8000).default(1000) });

/** A track's outline: 16-bit pairs of lowest and highest sample, one pair a column. */
export const GET = route({ right: 'watch', params: trackParams, query: peaksQuery }, async ({ params, query }) => {
  const take = await findTake(database(), params.take);
  const track = await findTrack(database(), params.take, params.track);
  const peaks = await trackPeaks(database(), track, take.length_samples ?? 0, query.columns);
  return new Response(peaks, { headers: { 'content-type': 'application/octet-stream' } });
});
