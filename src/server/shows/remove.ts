import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';

interface Standing extends Record<string, unknown> {
  name: string;
  takes: number;
  open: number;
  calls: number;
}

const STANDING = `count(take.id)::int as takes, count(take.id) filter (where take.state = 'recording')::int as open, count(distinct episode.id) filter (where call_started_at is not null)::int as calls`;

/** @throws {HttpError} 404, 409 with what has to be said first */
function requireRemovable(rows: Standing[], what: string, withTakes: boolean): Standing {
  if (rows.length === 0) throw notFound(what);
  const [{ takes, open, calls }] = rows;
  if (open > 0) throw new HttpError(409, 'take-open', 'A take of it is open. Stop it, or seal it, first.');
  if (calls > 0) throw new HttpError(409, 'call-runs', 'A call of it runs. End it first.');
  if (takes > 0 && !withTakes) throw new HttpError(409, 'has-takes', `${takes === 1 ? 'One take was' : `${takes} takes were`} recorded in it. Removing it removes ${takes === 1 ? 'it' : 'them'} for good, not into the bin.`);
  return rows[0];
}

/** Removes an episode with everything in it. Only within a transaction. Returns what it was called. @throws {HttpError} 404, 409 */
export async function removeEpisode(db: Querier, episode: string, withTakes: boolean): Promise<string> {
  await db.query('select 1 from episode where id = $1 for update', [episode]);
  const { rows } = await db.query<Standing>(`select episode.title as name, ${STANDING} from episode left join take on take.episode_id = episode.id where episode.id = $1 group by episode.id`, [episode]);
  const { name } = requireRemovable(rows, 'episode', withTakes);
  await db.query('delete from episode where id = $1', [episode]);
  return name;
}

/** Removes a show with its episodes, people and sounds. Only within a transaction. Returns what it was called. @throws {HttpError} 404, 409 */
export async function removeShow(db: Querier, show: string, withTakes: boolean): Promise<string> {
  await db.query('select 1 from show where id = $1 for update', [show]);
  const { rows } = await db.query<Standing>(
    `select show.name, ${STANDING} from show left join episode on episode.show_id = show.id left join take on take.episode_id = episode.id where show.id = $1 group by show.id`,
    [show],
  );
  const { name } = requireRemovable(rows, 'show', withTakes);
  // Seats hold on to their people.
  await db.query('delete from episode where show_id = $1', [show]);
  await db.query('delete from show where id = $1', [show]);
  return name;
}
