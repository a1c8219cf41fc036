import { mixSettingsSchema } from '@/core/tasks/task';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { storeMixSettings } from '@/server/shows/mix-settings';

/** Keeps how a show finishes its mixes. */
export const PUT = route({ right: 'work', params: showParams }, async ({ params, request }) => {
  const settings = await readJson(request, mixSettingsSchema, 4096);
  await storeMixSettings(database(), params.show, settings);
  return Response.json(settings);
});
