import { mixSettingsSchema, type MixSettings } from '@/core/tasks/task';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** How a show finishes its mixes. @throws {HttpError} 404 */
export async function findMixSettings(db: Querier, show: string): Promise<MixSettings> {
  const { rows } = await db.query<{ settings: unknown }>('select mix_settings as settings from show where id = $1', [show]);
  if (rows.length === 0) throw notFound('show');
  return mixSettingsSchema.parse(rows[0].settings);
}

export async function storeMixSettings(db: Querier, show: string, settings: MixSettings): Promise<void> {
  await db.query('update show set mix_settings = $2 where id = $1', [show, JSON.stringify(settings)]);
}
