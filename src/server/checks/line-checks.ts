import { lineCheckSchema, type LineCheck } from '@/core/linecheck/line-check';
import type { Querier } from '../database';

/** So many are kept of an episode, beside those that takes belong to. */
const MOST_KEPT = 20;

export async function keepLineCheck(db: Querier, episode: string, check: LineCheck): Promise<void> {
  await db.query('insert into line_check (episode_id, checked_at, found) values ($1, $2, $3)', [episode, check.at, JSON.stringify(check)]);
  // A take belongs to the newest check before it: that one stays.
  await db.query(
    `delete from line_check where episode_id = $1
        and id not in (select id from line_check where episode_id = $1 order by checked_at desc limit $2)
        and id not in (select (select id from line_check where episode_id = $1 and checked_at <= take.started_at order by checked_at desc limit 1)
                         from take where episode_id = $1 and started_at >= (select min(checked_at) from line_check where episode_id = $1))`,
    [episode, MOST_KEPT],
  );
}

/** The newest check of an episode; null where there is none. */
export async function newestLineCheck(db: Querier, episode: string): Promise<LineCheck | null> {
  return one(await db.query<{ found: unknown }>('select found from line_check where episode_id = $1 order by checked_at desc limit 1', [episode]));
}

/**
 * The newest check that was made before a take began, or while it ran where the host insisted; null where there is none.
 * @param episode the take must be of this one, where it is said
 */
export async function lineCheckOfTake(db: Querier, take: string, episode: string | null = null): Promise<LineCheck | null> {
  return one(
    await db.query<{ found: unknown }>(
      `select found from line_check join take on take.episode_id = line_check.episode_id
        where take.id = $1 and ($2::uuid is null or take.episode_id = $2) and (checked_at <= take.started_at or found->>'duringTake' = take.id::text)
        order by checked_at desc limit 1`,
      [take, episode],
    ),
  );
}

const one = ({ rows }: { rows: { found: unknown }[] }): LineCheck | null => (rows.length === 0 ? null : lineCheckSchema.parse(rows[0].found));
