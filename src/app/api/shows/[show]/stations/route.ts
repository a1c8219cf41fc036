import { z } from '@/core/zod';
import { passwordSchema, stationSchema } from '@/core/air/station';
import { addStation, listStations } from '@/server/air/stations';
import { noteEvent } from '@/server/audit/events';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

/** Where the show can be sent to; without passwords. */
export const GET = route({ right: 'watch', params: showParams }, async ({ params }) => Response.json(await listStations(database(), params.show)));

export const POST = route({ right: 'work', params: showParams }, async ({ params, request, account }) => {
  const { settings, password } = await readJson(request, z.object({ settings: stationSchema, password: passwordSchema.nullable() }), 8192);
  const station = await addStation(database(), params.show, settings, password);
  await noteEvent(database(), account, params.show, 'station', `added the station ${settings.name} at ${settings.address}`);
  return Response.json(station, { status: 201 });
});
