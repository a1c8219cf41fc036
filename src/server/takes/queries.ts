import { z } from '@/core/zod';
import { SAMPLE_FORMATS } from '@/core/formats/wav/sample-format';
import type { HearingPlan } from '@/core/hearing/plan';
import { planText } from '@/core/hearing/stored-plan';
import type { KeptHands } from '@/core/takes/plan-log';
import { leftOutSchema, pauseSchema, type LeftOut, type TakePause } from '@/core/takes/pauses';
import type { GapCause } from '@/core/takes/gaps';
import { TRACK_KINDS } from '@/core/takes/track-kinds';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

const takeRow = z.object({
  id: z.uuid(),
  episode_id: z.uuid(),
  number: z.number(),
  state: z.enum(['recording', 'sealed']),
  started_at: z.date(),
  sealed_at: z.date().nullable(),
  length_samples: z.number().nullable(),
  clock_at_start: z.number().nullable(),
  clock_at_call: z.number().nullable(),
  name: z.string(),
  note: z.string(),
  binned_at: z.date().nullable(),
  pauses: z.array(pauseSchema),
  not_recorded: z.array(leftOutSchema),
});
export type TakeRow = z.infer<typeof takeRow>;

const TAKE = `select id, episode_id, number, state, started_at, sealed_at,
                     length_samples::text, clock_at_start::text, clock_at_call::text, name, note, binned_at, pauses, not_recorded from take`;

function parseTake(row: unknown): TakeRow {
  const counts = row as Record<'length_samples' | 'clock_at_start' | 'clock_at_call', string | null>;
  const count = (value: string | null) => (value === null ? null : Number(value));
  return takeRow.parse({
    ...counts,
    length_samples: count(counts.length_samples),
    clock_at_start: count(counts.clock_at_start),
    clock_at_call: count(counts.clock_at_call),
  });
}

export async function findTake(db: Querier, id: string): Promise<TakeRow> {
  const { rows } = await db.query(`${TAKE} where id = $1`, [id]);
  if (rows.length === 0) throw notFound('take');
  return parseTake(rows[0]);
}

/** The take, held until the transaction ends: shared among writers of chunks, alone for a seal. */
export async function lockTake(db: Querier, id: string, how: 'shared' | 'alone'): Promise<TakeRow> {
  const { rows } = await db.query(`${TAKE} where id = $1 ${how === 'alone' ? 'for update' : 'for share'}`, [id]);
  if (rows.length === 0) throw notFound('take');
  return parseTake(rows[0]);
}

/** What cannot wait: a take of which sound has arrived within the last seconds, or a call at a desk that is open. */
export async function whatRuns(db: Querier): Promise<'recording' | 'call' | null> {
  const { rows } = await db.query<{ recording: boolean; call: boolean }>(
    `select exists (
       select 1 from take join track on track.take_id = take.id
         join lateral (select received_at from chunk where track_id = track.id order by index desc limit 1) newest on true
        where take.state = 'recording' and newest.received_at > now() - interval '10 seconds') as recording,
     exists (
       select 1 from episode join open_window on episode_id = episode.id and party = 'desk'
        where call_started_at is not null and seen_at > now() - interval '15 seconds') as call`,
  );
  const [{ recording, call }] = rows;
  return recording ? 'recording' : call ? 'call' : null;
}

export async function listTakes(db: Querier, episode: string): Promise<TakeRow[]> {
  const { rows } = await db.query(`${TAKE} where episode_id = $1 order by number desc`, [episode]);
  return rows.map(parseTake);
}

export interface NewTake {
  episode: string;
  /** What was in force, as the desk says; its log says it again once capturing has begun. */
  plan: HearingPlan;
  hands: KeptHands;
  leftOut: readonly LeftOut[];
}

/** Begins a take with the episode's next number. */
export async function insertTake(db: Querier, take: NewTake): Promise<{ id: string; number: number }> {
  // Held until the end of the transaction: two desks at once get two numbers.
  const { rowCount } = await db.query('select 1 from episode where id = $1 for update', [take.episode]);
  if (rowCount === 0) throw notFound('episode');
  const { rows } = await db.query<{ id: string; number: number }>(
    `insert into take (episode_id, number, plan, hands, not_recorded)
     select $1, coalesce(max(number), 0) + 1, $2, $3, $4 from take where episode_id = $1
     returning id, number`,
    [take.episode, planText(take.plan), JSON.stringify(take.hands), JSON.stringify(take.leftOut)],
  );
  return rows[0];
}

const trackRow = z.object({
  id: z.uuid(),
  take_id: z.uuid(),
  place: z.number(),
  kind: z.enum(TRACK_KINDS),
  recorded: z.string(),
  name: z.string(),
  channels: z.union([z.literal(1), z.literal(2)]),
  format: z.enum(SAMPLE_FORMATS),
  from_sample: z.coerce.number(),
  derived_from: z.uuid().nullable(),
  made: z.record(z.string(), z.unknown()).nullable(),
});
export type TrackRow = z.infer<typeof trackRow>;
export type NewTrack = Omit<TrackRow, 'id' | 'take_id' | 'place' | 'from_sample' | 'derived_from' | 'made'>;

/** Adds a track that is made from another, after all others. It is in no list until it is complete; an earlier try goes. */
export async function insertDerivedTrack(db: Querier, take: string, track: NewTrack & { derivedFrom: string }): Promise<string> {
  await db.query('delete from track where derived_from = $1 and kind = $2 and made is null', [track.derivedFrom, track.kind]);
  const { rows } = await db.query<{ id: string }>(
    `insert into track (take_id, place, kind, recorded, name, channels, format, derived_from)
     select $1, coalesce(max(place), 0) + 1, $2, $3, $4, $5, $6, $7 from track where take_id = $1 returning id`,
    [take, track.kind, track.recorded, track.name, track.channels, track.format, track.derivedFrom],
  );
  return rows[0].id;
}

/** Shows a track that was made, with what was measured of it, in place of the one made before. */
export async function completeDerivedTrack(db: Querier, track: string, made: object): Promise<void> {
  await db.query(
    `delete from track old using track new where new.id = $1 and old.derived_from = new.derived_from and old.kind = new.kind and old.id <> new.id`,
    [track],
  );
  await db.query('update track set made = $2 where id = $1', [track, JSON.stringify(made)]);
}

export async function removeTrack(db: Querier, track: string): Promise<void> {
  await db.query('delete from track where id = $1 and derived_from is not null', [track]);
}

export async function insertTrack(db: Querier, take: string, place: number, track: NewTrack): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    `insert into track (take_id, place, kind, recorded, name, channels, format)
     values ($1, $2, $3, $4, $5, $6, $7) returning id`,
    [take, place, track.kind, track.recorded, track.name, track.channels, track.format],
  );
  return rows[0].id;
}

/** Adds a track behind all others, under the id it was given: one that was not there when its take began, or of a take from elsewhere. */
export async function insertLateTrack(db: Querier, take: string, track: NewTrack & { id: string; fromSample: number }): Promise<void> {
  await db.query(
    `insert into track (id, take_id, place, kind, recorded, name, channels, format, from_sample)
     select $2, $1, coalesce(max(place), -1) + 1, $3, $4, $5, $6, $7, $8 from track where take_id = $1`,
    [take, track.id, track.kind, track.recorded, track.name, track.channels, track.format, track.fromSample],
  );
}

const TRACK = 'select id, take_id, place, kind, recorded, name, channels, format, from_sample, derived_from, made from track';

export async function listTracks(db: Querier, take: string): Promise<TrackRow[]> {
  const { rows } = await db.query(`${TRACK} where take_id = $1 and (derived_from is null or made is not null) order by place`, [take]);
  return rows.map((row) => trackRow.parse(row));
}

export async function findTrack(db: Querier, take: string, track: string): Promise<TrackRow> {
  const { rows } = await db.query(`${TRACK} where take_id = $1 and id = $2`, [take, track]);
  if (rows.length === 0) throw notFound('track');
  return trackRow.parse(rows[0]);
}

export interface TakeSpan {
  lengthSamples: number;
  /** Session clock at the take's first sample; null when the desk could not say. */
  clockAtStart: number | null;
  clockAtCall: number | null;
  pauses?: readonly TakePause[];
}

export async function markSealed(db: Querier, take: string, span: TakeSpan): Promise<void> {
  await db.query(
    `update take set state = 'sealed', sealed_at = now(), length_samples = $2, clock_at_start = $3,
            clock_at_call = $4, pauses = $5 where id = $1`,
    [take, span.lengthSamples, span.clockAtStart, span.clockAtCall, JSON.stringify(span.pauses ?? [])],
  );
}

export interface Gap {
  track: string;
  atSample: number;
  lengthSamples: number;
  cause: GapCause;
}

export async function insertGap(db: Querier, gap: Gap): Promise<void> {
  await db.query(
    `insert into gap (track_id, at_sample, length_samples, cause) values ($1, $2, $3, $4)
     on conflict (track_id, at_sample) do update set length_samples = greatest(gap.length_samples, excluded.length_samples)`,
    [gap.track, gap.atSample, gap.lengthSamples, gap.cause],
  );
}

export async function listGaps(db: Querier, take: string): Promise<Gap[]> {
  const { rows } = await db.query<{ track: string; at_sample: string; length_samples: string; cause: Gap['cause'] }>(
    `select gap.track_id as track, gap.at_sample, gap.length_samples, gap.cause
       from gap join track on track.id = gap.track_id
      where track.take_id = $1 order by gap.at_sample`,
    [take],
  );
  return rows.map((row) => ({
    track: row.track,
    atSample: Number(row.at_sample),
    lengthSamples: Number(row.length_samples),
    cause: row.cause,
  }));
}

export interface TrackLevels {
  track: string;
  /** Largest sample, linear. */
  peak: number;
  /** Over all channels. */
  sumOfSquares: number;
  frames: number;
}

export async function trackLevels(db: Querier, take: string): Promise<TrackLevels[]> {
  const { rows } = await db.query<{ track: string; peak: number; sum: number; frames: string }>(
    `select track.id as track, max(chunk.peak) as peak, sum(chunk.sum_of_squares) as sum,
            sum(chunk.frames) as frames
       from track join chunk on chunk.track_id = track.id
      where track.take_id = $1 group by track.id`,
    [take],
  );
  return rows.map(({ track, peak, sum, frames }) => ({ track, peak, sumOfSquares: sum, frames: Number(frames) }));
}
