import { z } from '@/core/zod';
import { passwordSchema, stationSchema } from '@/core/air/station';
import { changeStation, removeStation } from '@/server/air/stations';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const stationParams = showParams.extend({ station: z.uuid() });

/** Changes a station; a password that is null stays as it is, unless the address is another one. */
export const PUT = route({ right: 'work', params: stationParams }, async ({ params, request }) => {
  const { settings, password } = await readJson(request, z.object({ settings: stationSchema, password: passwordSchema.nullable() }), 8192);
  return Response.json(await changeStation(database(), params.show, params.station, settings, password));
});

export const DELETE = route({ right: 'work', params: stationParams }, async ({ params }) => {
  await removeStation(database(), params.show, params.station);
  return Response.json({ removed: params.station });
});
