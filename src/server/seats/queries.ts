import { z } from '@/core/zod';
import { MOST_NAME_LETTERS, MOST_PEOPLE_BEHIND_A_LINE, MOST_SEATS } from '@/core/limits';
import { LINE_KINDS, REFLEXIVES } from '@/core/hearing/plan';
import { lineSettingsSchema } from '@/core/lines/line-settings';
import { seatIdFor } from '@/core/hearing/seats';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { closeHomes } from '../home/queries';
import { listSeats, type SeatRow } from '../episodes/queries';

const name = z.string().trim().min(1).max(MOST_NAME_LETTERS);

/** Everybody who speaks on a line; none or one is the seat’s own person. */
const people = z.array(name).max(MOST_PEOPLE_BEHIND_A_LINE).default([]);

/** A person and their place, as a host writes them down. */
export const newSeatSchema = z.object({
  name,
  fullName: name,
  about: z.string().trim().max(120).default(''),
  reflexive: z.enum(REFLEXIVES).default('themselves'),
  role: z.enum(['caller', 'producer']).default('caller'),
  line: z.enum(LINE_KINDS).default('link'),
  people,
});
export type NewSeat = Omit<z.infer<typeof newSeatSchema>, 'people'> & { people?: string[] };

/** Gives a person a place in an episode. @throws {HttpError} 404, or 409 when the desk is full */
export async function addSeat(db: Querier, episode: string, seat: NewSeat): Promise<SeatRow> {
  const { rows: shows } = await db.query<{ show_id: string }>('select show_id from episode where id = $1 for update', [episode]);
  if (shows.length === 0) throw notFound('episode');
  const seats = await listSeats(db, episode);
  if (seats.length >= MOST_SEATS) throw new HttpError(409, 'desk-full', `A desk has room for ${MOST_SEATS} people.`);
  const id = seatIdFor(seat.name, seats.map((one) => one.id));
  await db.query(
    `with new_person as (
       insert into person (show_id, name, full_name, about, reflexive, strip)
       values ($2, $4, $5, $6, $7, (select known.strip from person known join seat on seat.person_id = known.id join episode on episode.id = seat.episode_id
                 where known.show_id = $2 and known.full_name = $5 order by episode.number desc limit 1)) returning id
     )
     insert into seat (episode_id, id, person_id, place, role, line, people)
     select $1, $3, new_person.id, (select coalesce(max(place), -1) + 1 from seat where episode_id = $1), $8, $9, $10 from new_person`,
    [episode, shows[0].show_id, id, seat.name, seat.fullName, seat.about, seat.reflexive, seat.role, seat.line, seat.people ?? []],
  );
  return (await listSeats(db, episode)).find((one) => one.id === id)!;
}

/** So many are offered when somebody is added. */
const MOST_OFFERED = 24;

/** Whole names of people of a show who are not in this episode, those of its newest episodes first. */
export async function knownPeople(db: Querier, episode: string): Promise<string[]> {
  const { rows } = await db.query<{ full_name: string }>(
    `select person.full_name, max(episode.number) as last
       from person join seat on seat.person_id = person.id join episode on episode.id = seat.episode_id
      where person.show_id = (select show_id from episode where id = $1) and seat.role = 'caller' and seat.line = 'link'
        and person.full_name not in (select other.full_name from seat here join person other on other.id = here.person_id where here.episode_id = $1)
      group by person.full_name order by last desc, person.full_name limit $2`,
    [episode, MOST_OFFERED],
  );
  return rows.map(({ full_name }) => full_name);
}

export const seatChangeSchema = z.object({
  line: z.enum(['link', 'pair', 'practice']).optional(),
  people: z.array(name).max(MOST_PEOPLE_BEHIND_A_LINE).optional(),
  lineSettings: lineSettingsSchema.optional(),
});

/** Puts a seat on another line, or changes how its line is coded. @throws {HttpError} 404, 409 */
export async function changeSeat(
  db: Querier,
  episode: string,
  seat: string,
  change: z.infer<typeof seatChangeSchema>,
): Promise<void> {
  const { rows } = await db.query<{ role: string; practice: unknown }>('select role, practice from seat where episode_id = $1 and id = $2', [episode, seat]);
  if (rows.length === 0) throw notFound('seat');
  if (change.line && rows[0].role === 'host') throw new HttpError(409, 'host-line', 'The host sits at the desk and has no line.');
  if (change.line === 'practice' && rows[0].practice === null) {
    throw new HttpError(409, 'no-practice-voice', 'There is no practice voice for this seat.');
  }
  await db.query(
    `update seat set line = coalesce($3, line), line_settings = coalesce($4, line_settings), people = coalesce($5, people)
      where episode_id = $1 and id = $2`,
    [episode, seat, change.line ?? null, change.lineSettings ? JSON.stringify(change.lineSettings) : null, change.people ?? null],
  );
}

/** Takes a seat out of an episode; its tracks stay in the takes. @throws {HttpError} 404, 409 */
export async function removeSeat(db: Querier, episode: string, seat: string): Promise<void> {
  const { rows } = await db.query<{ role: string }>('select role from seat where episode_id = $1 and id = $2', [episode, seat]);
  if (rows.length === 0) throw notFound('seat');
  if (rows[0].role === 'host') throw new HttpError(409, 'host-seat', 'An episode always has its host.');
  await closeHomes(db, episode, seat);
  await db.query('delete from seat where episode_id = $1 and id = $2', [episode, seat]);
}

export interface Consent {
  seat: string;
  name: string;
  wording: string;
  agreedAt: Date;
}

/** Keeps what a guest agreed to, also with a take that is being recorded. */
export async function insertConsent(db: Querier, episode: string, { seat, name: who, wording }: Omit<Consent, 'agreedAt'>): Promise<void> {
  await db.query(
    `with agreed as (
       insert into consent (episode_id, seat_id, name, wording) values ($1, $2, $3, $4) returning *
     )
     insert into take_consent (take_id, seat_id, name, wording, agreed_at)
     select take.id, agreed.seat_id, agreed.name, agreed.wording, agreed.agreed_at
       from agreed join take on take.episode_id = agreed.episode_id and take.state = 'recording'
     on conflict do nothing`,
    [episode, seat, who, wording],
  );
}

/** The newest consent of each seat, copied to a take that begins. */
export async function copyConsents(db: Querier, episode: string, take: string): Promise<void> {
  await db.query(
    `insert into take_consent (take_id, seat_id, name, wording, agreed_at)
     select distinct on (seat_id) $2, seat_id, name, wording, agreed_at from consent
      where episode_id = $1 order by seat_id, agreed_at desc`,
    [episode, take],
  );
}

export async function takeConsents(db: Querier, take: string): Promise<Consent[]> {
  const { rows } = await db.query<{ seat: string; name: string; wording: string; agreedAt: Date }>(
    'select seat_id as seat, name, wording, agreed_at as "agreedAt" from take_consent where take_id = $1 order by agreed_at',
    [take],
  );
  return rows;
}
