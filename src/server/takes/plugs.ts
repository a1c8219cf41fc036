import { takePlugsSchema, type TakePlugs } from '@/core/takes/plugs';
import type { Querier } from '../database';

/** Keeps what was plugged in where; what came later at the same sample holds. */
export async function keepPlugs(db: Querier, take: string, { atSample, ...plugs }: TakePlugs): Promise<void> {
  await db.query('insert into take_plugs (take_id, at_sample, plugs) values ($1, $2, $3) on conflict (take_id, at_sample) do update set plugs = excluded.plugs', [take, atSample, JSON.stringify(plugs)]);
}

export async function listPlugs(db: Querier, take: string): Promise<TakePlugs[]> {
  const { rows } = await db.query<{ at: string; plugs: object }>('select at_sample as at, plugs from take_plugs where take_id = $1 order by at_sample', [take]);
  return rows.map(({ at, plugs }) => takePlugsSchema.parse({ atSample: Number(at), ...plugs }));
}
