import { z } from '@/core/zod';
import { markerSchema, markersAsVtt } from '@/core/takes/markers';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { nameOfTake } from '@/server/takes/downloads';
import { listMarkers, markersAsCsv, storeMarker } from '@/server/takes/markers';

/** Keeps a marker of a take, or its new name. */
export const POST = route({ right: 'record', params: takeParams }, async ({ params, request }) => {
  const marker = await readJson(request, markerSchema, 4096);
  await storeMarker(database(), params.take, marker);
  return Response.json(marker);
});

const format = z.object({ as: z.enum(['csv', 'vtt']).default('csv') });

/** The markers of a take as a table or as WebVTT. */
export const GET = route({ right: 'watch', params: takeParams, query: format }, async ({ params, query }) => {
  const markers = await listMarkers(database(), params.take);
  const name = `${await nameOfTake(database(), params.take)}_markers.${query.as}`;
  return new Response(query.as === 'csv' ? markersAsCsv(markers) : markersAsVtt(markers), {
    headers: { 'content-type': `text/${query.as}; charset=utf-8`, 'content-disposition': `attachment; filename="${name}"` },
  });
});
