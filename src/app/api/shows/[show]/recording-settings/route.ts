import { recordingSettingsSchema } from '@/core/takes/recording-settings';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { storeRecordingSettings } from '@/server/shows/recording-settings';

/** Keeps how a show records. */
export const PUT = route({ right: 'record', params: showParams }, async ({ params, request }) => {
  const settings = await readJson(request, recordingSettingsSchema, 4096);
  await storeRecordingSettings(database(), params.show, settings);
  return Response.json(settings);
});
