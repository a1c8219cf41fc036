import { seatIdFor } from '@/core/hearing/seats';
import { setMember, type Account } from '../access/accounts';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
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
 * Removes a demo with everything in it. What was recorded in it goes only where that was said.
 * @throws {HttpError} 404 where the show is no demo, 409 where it has takes and nobody said that they may go
 */
export async function putDemoAway(db: Querier, show: string, withTakes: boolean): Promise<void> {
  const { rows } = await db.query<{ takes: string }>(
    `select (select count(*) from take join episode on episode.id = take.episode_id where episode.show_id = show.id) as takes
       from show where id = $1 and demo`,
    [show],
  );
  if (rows.length === 0) throw notFound('demo');
  const takes = Number(rows[0].takes);
  if (takes > 0 && !withTakes) {
    throw new HttpError(409, 'demo-has-takes', `${takes === 1 ? 'One take was' : `${takes} takes were`} recorded in the demo. Putting it away removes ${takes === 1 ? 'it' : 'them'} as well.`);
  }
  // Seats hold on to their people.
  await db.query('delete from episode where show_id = $1', [show]);
  await db.query('delete from show where id = $1', [show]);
}
