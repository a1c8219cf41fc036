import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** How long a take can be brought back. */
export const BIN_DAYS = 30;

/** Puts a take away, or brings it back. @throws {HttpError} 404 */
export async function setBinned(db: Querier, take: string, binned: boolean): Promise<void> {
  const { rowCount } = await db.query(`update take set binned_at = case when $2 then coalesce(binned_at, now()) end where id = $1`, [take, binned]);
  if (rowCount === 0) throw notFound('take');
}

/** Renames a take, or writes a note to it. @throws {HttpError} 404 */
export async function describeTake(db: Querier, take: string, { name, note }: { name?: string; note?: string }): Promise<void> {
  const { rowCount } = await db.query('update take set name = coalesce($2, name), note = coalesce($3, note) where id = $1', [take, name ?? null, note ?? null]);
  if (rowCount === 0) throw notFound('take');
}

/** Bytes of sound each show holds, and each take of it, what guests' browsers sent of it included. */
export async function takeSizes(db: Querier, episode: string): Promise<{ takes: Map<string, number>; show: number }> {
  const { rows } = await db.query<{ take: string; episode: string; bytes: string }>(
    `select take.id as take, take.episode_id as episode,
            coalesce(sum(octet_length(chunk.samples)), 0) + (select coalesce(sum(stored_bytes), 0) from home_recording where take_id = take.id) as bytes
       from episode mine join episode on episode.show_id = mine.show_id
       join take on take.episode_id = episode.id
       left join track on track.take_id = take.id left join chunk on chunk.track_id = track.id
      where mine.id = $1 group by take.id`,
    [episode],
  );
  const own = rows.filter((row) => row.episode === episode).map(({ take, bytes }): [string, number] => [take, Number(bytes)]);
  return { takes: new Map(own), show: rows.reduce((sum, { bytes }) => sum + Number(bytes), 0) };
}
