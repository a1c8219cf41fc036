import { seatIdFor } from '@/core/hearing/seats';
import { setMember, type Account } from '../access/accounts';
import type { Querier } from '../database';
import { notFound } from '../http/errors';
import { removeShow } from '../shows/remove';
import { insertDemo } from './seed';

/** Gives an account a demo of its own, or the one it has. */
export async function openDemo(db: Querier, account: Account): Promise<{ show: string; episode: string }> {
  const { rows } = await db.query<{ show: string; episode: string }>(
    `select show.id as show, episode.id as episode
       from show join show_member on show_member.show_id = show.id join episode on episode.show_id = show.id
      where demo and account_id = $1 order by number limit 1`,
    [account.id],
  );
  if (rows.length > 0) return rows[0];
  const { rows: taken } = await db.query<{ slug: string }>('select slug from show');
  const made = await insertDemo(db, seatIdFor('Ferry Weather', taken.map(({ slug }) => slug)));
  await setMember(db, made.show, account.id, 'owner');
  return made;
}

/**
 * Removes a demo as any show is removed. @throws {HttpError} 404 where the show is no demo, 409 where something has to be said or
 * ended first
 */
export async function putDemoAway(db: Querier, show: string, withTakes: boolean): Promise<void> {
  const { rows } = await db.query('select 1 from show where id = $1 and demo', [show]);
  if (rows.length === 0) throw notFound('demo');
  await removeShow(db, show, withTakes);
}
