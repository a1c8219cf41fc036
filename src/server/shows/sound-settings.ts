import { soundSettingsSchema, type SoundSettings } from '@/core/sounds/sound-settings';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** How a show deals with its sounds. @throws {HttpError} 404 */
export async function findSoundSettings(db: Querier, show: string): Promise<SoundSettings> {
  const { rows } = await db.query<{ settings: unknown }>('select sound_settings as settings from show where id = $1', [show]);
  if (rows.length === 0) throw notFound('show');
  return soundSettingsSchema.parse(rows[0].settings);
}

export async function storeSoundSettings(db: Querier, show: string, settings: SoundSettings): Promise<void> {
  await db.query('update show set sound_settings = $2 where id = $1', [show, JSON.stringify(settings)]);
}
