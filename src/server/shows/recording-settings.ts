import { recordingSettingsSchema, type RecordingSettings } from '@/core/takes/recording-settings';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** How a show records. @throws {HttpError} 404 */
export async function findRecordingSettings(db: Querier, show: string): Promise<RecordingSettings> {
  const { rows } = await db.query<{ settings: unknown }>('select recording_settings as settings from show where id = $1', [show]);
  if (rows.length === 0) throw notFound('show');
  return recordingSettingsSchema.parse(rows[0].settings);
}

export async function storeRecordingSettings(db: Querier, show: string, settings: RecordingSettings): Promise<void> {
  await db.query('update show set recording_settings = $2 where id = $1', [show, JSON.stringify(settings)]);
}
