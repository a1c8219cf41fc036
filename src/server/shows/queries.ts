import { z } from '@/core/zod';
import { BED_DUCKS, FIRST_PLAYERS, forAnybody } from '@/core/hearing/ducking';
import { createPlan } from '@/core/hearing/plan';
import { planText } from '@/core/hearing/stored-plan';
import { seatIdFor, seatOfPlan, withKeptStrips } from '@/core/hearing/seats';
import type { Account } from '../access/accounts';
import { setMember } from '../access/accounts';
import type { Querier } from '../database';
import { HttpError } from '../http/errors';
import { findPlan, listSeats, type SeatRow } from '../episodes/queries';

export interface ListedShow {
  id: string;
  name: string;
  role: 'owner' | 'host' | 'producer';
  /** Made up, to look around in. */
  demo: boolean;
}

/** The shows an account works on. */
export async function listShows(db: Querier, account: string): Promise<ListedShow[]> {
  const { rows } = await db.query<ListedShow>(
    `select show.id, show.name, show_member.role, show.demo
       from show join show_member on show_member.show_id = show.id
      where account_id = $1 order by show.name`,
    [account],
  );
  return rows;
}

/**
 * Makes a show with its maker as owner.
 * @param timeZone where its days begin and end (an IANA name); null for wherever the server stands
 */
export async function insertShow(db: Querier, owner: Account, name: string, timeZone: string | null = null): Promise<string> {
  const { rows: taken } = await db.query<{ slug: string }>('select slug from show');
  const { rows } = await db.query<{ id: string }>('insert into show (slug, name, time_zone) values ($1, $2, $3) returning id', [
    seatIdFor(name, taken.map(({ slug }) => slug)),
    name,
    timeZone,
  ]);
  await setMember(db, rows[0].id, owner.id, 'owner');
  return rows[0].id;
}

export const episodeSchema = z.object({
  number: z.number().int().min(1).max(100_000),
  title: z.string().trim().min(1).max(120),
  plannedAt: z.iso.datetime({ offset: true }).nullable().default(null),
  plannedMinutes: z.number().int().min(5).max(1440).default(60),
});
export type NewEpisode = z.infer<typeof episodeSchema>;

/**
 * Makes an episode. It begins with the host and the pads of the show's newest one; the first has
 * whoever makes it as its host. @throws {HttpError} 409 when the number is taken
 */
export async function insertEpisode(db: Querier, show: string, maker: Account, episode: NewEpisode): Promise<string> {
  const { rows: newest } = await db.query<{ id: string }>('select id from episode where show_id = $1 order by number desc limit 1', [show]);
  const { rows } = await db.query<{ id: string }>(
    `insert into episode (show_id, number, title, planned_at, planned_minutes) values ($1, $2, $3, $4, $5)
     on conflict (show_id, number) do nothing returning id`,
    [show, episode.number, episode.title, episode.plannedAt, episode.plannedMinutes],
  );
  if (rows.length === 0) throw numberTaken(episode.number);
  const [{ id }] = rows;
  const host = newest.length > 0 ? await copyHost(db, newest[0].id, id) : await seatMaker(db, show, id, maker);
  if (newest.length > 0) {
    await db.query(
      `insert into pad (episode_id, place, sound_id, player, key, mode, again, exclusive_group, level_db)
       select $2, place, sound_id, player, key, mode, again, exclusive_group, level_db from pad where episode_id = $1`,
      [newest[0].id, id],
    );
  }
  const before = newest.length > 0 ? (await findPlan(db, newest[0].id)).plan : null;
  const empty = { ...createPlan([seatOfPlan(host)], before?.players ?? FIRST_PLAYERS), ducking: before ? forAnybody(before.ducking) : BED_DUCKS };
  const plan = withKeptStrips(empty, { seats: [] }, [host]);
  await db.query('insert into hearing_plan (episode_id, body) values ($1, $2)', [id, planText(plan)]);
  return id;
}

async function copyHost(db: Querier, from: string, to: string): Promise<SeatRow> {
  await db.query(
    `insert into seat (episode_id, id, person_id, place, role, line, practice)
     select $2, id, person_id, 0, role, line, practice from seat where episode_id = $1 and role = 'host'`,
    [from, to],
  );
  return hostSeat(db, to);
}

async function seatMaker(db: Querier, show: string, episode: string, maker: Account): Promise<SeatRow> {
  const [first] = maker.name.split(/\s+/);
  await db.query(
    `with new_person as (
       insert into person (show_id, name, full_name, about, reflexive) values ($1, $3, $4, 'host', 'themselves') returning id
     )
     insert into seat (episode_id, id, person_id, place, role, line)
     select $2, $5, new_person.id, 0, 'host', 'pair' from new_person`,
    [show, episode, first, maker.name, seatIdFor(first, [])],
  );
  return hostSeat(db, episode);
}

async function hostSeat(db: Querier, episode: string): Promise<SeatRow> {
  const [host] = await listSeats(db, episode);
  return host;
}

/** @throws {HttpError} 409 when the number is taken */
export async function changeEpisode(db: Querier, id: string, episode: NewEpisode): Promise<void> {
  const { rowCount } = await db.query(
    `update episode set number = $2, title = $3, planned_at = $4, planned_minutes = $5
      where id = $1 and not exists (select 1 from episode other where other.show_id = episode.show_id and other.number = $2 and other.id <> $1)`,
    [
    id,
    episode.number,
    episode.title,
    episode.plannedAt,
    episode.plannedMinutes,
  ]).catch((error: { code?: string }) => {
    // Another request was faster.
    if (error.code === UNIQUE_VIOLATION) return { rowCount: 0 };
    throw error;
  });
  if (rowCount === 0) throw numberTaken(episode.number);
}

const UNIQUE_VIOLATION = '23505';

const numberTaken = (number: number) => new HttpError(409, 'number-taken', `There is an episode ${number} already. Choose another number.`);
