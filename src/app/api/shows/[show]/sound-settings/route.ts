import { soundSettingsSchema } from '@/core/sounds/sound-settings';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { storeSoundSettings } from '@/server/shows/sound-settings';

/** Keeps the levels, fades and moves of a show's sounds. */
export const PUT = route({ right: 'work', params: showParams }, async ({ params, request }) => {
  const settings = await readJson(request, soundSettingsSchema, 4096);
  await storeSoundSettings(database(), params.show, settings);
  return Response.json(settings);
});
