import { z } from '@/core/zod';
import { planText, readStoredPlan } from '@/core/hearing/stored-plan';
import { voiceOf } from '@/core/hearing/ids';
import { stripSchema } from '@/core/strip/strip-schema';
import { REFLEXIVES, type HearingPlan } from '@/core/hearing/plan';
import { SOUND_KINDS } from '@/core/sounds/sound-kind';
import type { BoardPad } from '@/core/sounds/board';
import { PAD_MODES, PRESS_AGAIN } from '@/core/sounds/pad-modes';
import type { DeskPad } from '@/core/session/desk-data';
import { lineSettingsSchema } from '@/core/lines/line-settings';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { EDIT, editColumns, withEdit } from '../sounds/queries';

const episodeRow = z.object({
  id: z.uuid(),
  number: z.number(),
  title: z.string(),
  show: z.string(),
  show_id: z.uuid(),
  time_zone: z.string().nullable(),
  call_started_at: z.date().nullable(),
  planned_at: z.date().nullable(),
  planned_minutes: z.number(),
});
export type EpisodeRow = z.infer<typeof episodeRow>;

const EPISODE = `
  select episode.id, episode.number, episode.title, show.name as show, show.id as show_id, show.time_zone,
         episode.call_started_at, episode.planned_at, episode.planned_minutes
    from episode join show on show.id = episode.show_id`;

export async function findEpisode(db: Querier, id: string): Promise<EpisodeRow> {
  const { rows } = await db.query(`${EPISODE} where episode.id = $1`, [id]);
  if (rows.length === 0) throw notFound('episode');
  return episodeRow.parse(rows[0]);
}

const listedRow = episodeRow.extend({
  callers: z.array(z.string()),
  takes: z.coerce.number(),
  open_take: z.boolean(),
  recorded_samples: z.coerce.number(),
});
export type ListedEpisode = z.infer<typeof listedRow>;

/** The episodes of an account's shows, newest first, with who calls in and what was recorded. */
export async function listEpisodes(db: Querier, account: string): Promise<ListedEpisode[]> {
  const { rows } = await db.query(
    `select episode.*, show.name as show, show.time_zone,
           array(select person.name from seat join person on person.id = seat.person_id
                  where seat.episode_id = episode.id and seat.role = 'caller'
                  order by seat.place) as callers,
           (select count(*) from take where take.episode_id = episode.id) as takes,
           exists(select 1 from take
                   where take.episode_id = episode.id and take.state = 'recording') as open_take,
           (select coalesce(sum(take.length_samples), 0) from take
             where take.episode_id = episode.id) as recorded_samples
      from episode join show on show.id = episode.show_id
           join show_member on show_member.show_id = show.id and show_member.account_id = $1
     order by show.name, episode.number desc`,
    [account],
  );
  return rows.map((row) => listedRow.parse(row));
}

export const practiceSchema = z.object({
  voice: z.string(),
  loudspeakers: z.boolean(),
  network: z.enum(['good', 'weak']),
});

const seatRow = z.object({
  id: z.string(),
  role: z.enum(['host', 'caller', 'producer']),
  line: z.enum(['link', 'pair', 'tab', 'practice']),
  practice: practiceSchema.nullable(),
  line_settings: lineSettingsSchema,
  reflexive: z.enum(REFLEXIVES),
  name: z.string(),
  full_name: z.string(),
  about: z.string(),
  people: z.array(z.string()),
  // One that was kept by another version of the product is set anew.
  strip: stripSchema.nullable().catch(null),
});
export type SeatRow = z.infer<typeof seatRow>;

/** Everybody who has a place in the episode, in order. */
export async function listSeats(db: Querier, episode: string): Promise<SeatRow[]> {
  const { rows } = await db.query(
    `select seat.id, seat.role, seat.line, seat.practice, seat.line_settings, seat.people,
            person.name, person.full_name, person.about, person.reflexive, person.strip
       from seat join person on person.id = seat.person_id
      where seat.episode_id = $1 order by seat.place`,
    [episode],
  );
  return rows.map((row) => seatRow.parse(row));
}

const planRow = z.object({ version: z.number(), body: z.unknown().transform(readStoredPlan) });

export async function findPlan(db: Querier, episode: string): Promise<{ version: number; plan: HearingPlan }> {
  const { rows } = await db.query('select version, body from hearing_plan where episode_id = $1', [episode]);
  if (rows.length === 0) throw notFound('hearing plan');
  const { version, body } = planRow.parse(rows[0]);
  return { version, plan: body };
}

/** What is done to everybody's voice, by seat. */
const stripsBySeat = ({ seats, processing }: HearingPlan) => Object.fromEntries(seats.map(({ id }) => [id, processing[voiceOf(id)]]));

/**
 * Stores a plan that was made from `version`, once, however often it is sent. Returns the new version.
 * @throws {HttpError} 409 when somebody else stored a plan in between
 */
export async function storePlan(
  db: Querier,
  episode: string,
  version: number,
  plan: HearingPlan,
): Promise<number> {
  const { rows } = await db.query<{ version: number }>(
    `with stored as (
       update hearing_plan set body = $3, version = version + 1, changed_at = now()
        where episode_id = $1 and version = $2 returning version
     ), kept as (
       insert into plan_version (episode_id, version, body) select $1, version, $3 from stored
     ), strips as (
       update person set strip = $4::jsonb -> seat.id
         from seat, stored where seat.episode_id = $1 and person.id = seat.person_id and strip is distinct from $4::jsonb -> seat.id
     )
     select version from stored`,
    [episode, version, planText(plan), JSON.stringify(stripsBySeat(plan))],
  );
  if (rows.length === 1) return rows[0].version;
  // Whoever had no answer asks again: what is stored already is no other window's.
  const { rowCount } = await db.query('select from hearing_plan where episode_id = $1 and version = $2 + 1 and body = $3::jsonb', [episode, version, planText(plan)]);
  if (rowCount === 1) return version + 1;
  const current = await findPlan(db, episode);
  throw new HttpError(
    409,
    'plan-changed',
    `The plan was changed in another window (version ${current.version}; yours was made from ${version}).`,
  );
}

/** Notes that the call runs, or that it has ended. */
export async function setCallRunning(db: Querier, episode: string, running: boolean): Promise<void> {
  const { rowCount } = await db.query(
    `update episode set call_started_at = case when $2 then coalesce(call_started_at, now()) end
      where id = $1`,
    [episode, running],
  );
  if (rowCount === 0) throw notFound('episode');
}

const padRow = z
  .object({
    sound: z.uuid(),
    name: z.string(),
    kind: z.enum(SOUND_KINDS),
    credit: z.string(),
    player: z.string(),
    key: z.string(),
    mode: z.enum(PAD_MODES),
    again: z.enum(PRESS_AGAIN),
    group: z.string().nullable(),
    levelDb: z.number(),
    gainDb: z.number(),
    ...editColumns,
  })
  .transform((row): DeskPad => withEdit(row));

/** The board of an episode, in its order. */
export async function listPads(db: Querier, episode: string): Promise<DeskPad[]> {
  const { rows } = await db.query(
    `select pad.sound_id as sound, sound.name, sound.kind, sound.credit, pad.player, pad.key, pad.mode, pad.again, pad.exclusive_group as "group",
            pad.level_db as "levelDb", sound.gain_db as "gainDb", ${EDIT}
       from pad join sound on sound.id = pad.sound_id
      where pad.episode_id = $1 order by pad.place`,
    [episode],
  );
  return rows.map((row) => padRow.parse(row));
}

export async function setPadLevel(db: Querier, episode: string, sound: string, levelDb: number): Promise<void> {
  const { rowCount } = await db.query(
    'update pad set level_db = $3 where episode_id = $1 and sound_id = $2',
    [episode, sound, levelDb],
  );
  if (rowCount === 0) throw notFound('pad');
}

/** Replaces the board of an episode. @throws {HttpError} 422 when a sound is not of the show */
export async function storePads(db: Querier, episode: string, show: string, pads: readonly BoardPad[]): Promise<void> {
  // Two windows at once would give one place to two pads.
  await db.query('select 1 from episode where id = $1 for update', [episode]);
  await db.query('delete from pad where episode_id = $1', [episode]);
  const { rowCount } = await db.query(
    `insert into pad (episode_id, place, sound_id, player, key, mode, again, exclusive_group, level_db)
     select $1, row.place, sound.id, row.player, row.key, row.mode, row.again, row."group", row."levelDb"
       from jsonb_to_recordset($3) as row(place int, sound uuid, player text, key text, mode text, again text, "group" text, "levelDb" real)
       join sound on sound.id = row.sound and sound.show_id = $2`,
    [episode, show, JSON.stringify(pads.map((pad, place) => ({ ...pad, place })))],
  );
  if (rowCount !== pads.length) throw new HttpError(422, 'sound', 'A pad names a sound that is not in the library of this show.');
}
