import { randomUUID } from 'node:crypto';
import type pg from 'pg';
import { z } from '@/core/zod';
import { BROADCAST_STATES, TITLE_ORIGINS, type AirTitle, type Broadcast, type BroadcastState, type PieceFacts, type SentTitle } from '@/core/air/broadcast';
import { stationSchema } from '@/core/air/station';
import { inTransaction, type Querier } from '../database';
import { HttpError, notFound } from '../http/errors';

/** Whoever waits for pieces, titles and ends is woken on this channel with the broadcast's id. */
export const AIR_CHANNEL = 'air';
/** More pieces than a sender would ever send late are not kept. */
const MOST_WAITING_PIECES = 40;

const broadcastRow = z
  .object({
    id: z.uuid(),
    station: z.uuid().nullable(),
    settings: stationSchema,
    startedAt: z.date(),
    endedAt: z.date().nullable(),
    ending: z.boolean(),
    onSince: z.date().nullable(),
    state: z.enum(BROADCAST_STATES),
    reason: z.string(),
    bytes: z.coerce.number(),
    reconnections: z.number(),
    droppedMs: z.coerce.number(),
    silenceMs: z.coerce.number(),
    bufferedMs: z.number(),
    nextPiece: z.number(),
    session: z.coerce.number().nullable(),
    sample: z.coerce.number().nullable(),
    agoMs: z.coerce.number().nullable(),
    title: z.string(),
  })
  .transform(({ settings, session, sample, agoMs, startedAt, endedAt, onSince, ...row }): Broadcast => ({
    ...row,
    name: settings.name,
    startedAt: startedAt.toISOString(),
    endedAt: endedAt?.toISOString() ?? null,
    onSince: onSince?.toISOString() ?? null,
    sent: session === null || sample === null || agoMs === null ? null : { session, sample, agoMs },
  }));

const COLUMNS = `id, station_id as station, settings, started_at as "startedAt", ended_at as "endedAt", ending_at is not null as ending,
  on_since as "onSince", state, reason, bytes, reconnections, dropped_ms as "droppedMs", silence_ms as "silenceMs",
  buffered_ms as "bufferedMs", next_piece as "nextPiece", sent_session as session, sent_sample as sample,
  1000 * extract(epoch from clock_timestamp() - sent_at) as "agoMs", title`;

/** Everything of an episode that is on the air, and the newest that was, newest first. */
export async function listBroadcasts(db: Querier, episode: string, most = 20): Promise<Broadcast[]> {
  const { rows } = await db.query(`select ${COLUMNS} from broadcast where episode_id = $1 order by started_at desc limit $2`, [episode, most]);
  return rows.map((row) => broadcastRow.parse(row));
}

export async function findBroadcast(db: Querier, episode: string, id: string): Promise<Broadcast> {
  const { rows } = await db.query(`select ${COLUMNS} from broadcast where episode_id = $1 and id = $2`, [episode, id]);
  if (rows.length === 0) throw notFound('broadcast');
  return broadcastRow.parse(rows[0]);
}

/** Goes on the air with a station of the episode's show. @throws {HttpError} 404, 409 */
export async function beginBroadcast(pool: pg.Pool, episode: string, station: string): Promise<Broadcast> {
  return inTransaction(pool, async (db) => {
    const { rows } = await db.query<{ settings: unknown }>(
      'select station.settings from station join episode on episode.show_id = station.show_id where episode.id = $1 and station.id = $2 for update of station',
      [episode, station],
    );
    if (rows.length === 0) throw notFound('station');
    // One whose end was asked for makes room, and so does one that nobody feeds or sends any more.
    await db.query(
      `update broadcast set ended_at = now(), state = 'ended', on_since = null, reason = case when reason = '' then 'Another stream took its place.' else reason end
        where station_id = $1 and ended_at is null and (ending_at is not null or fed_at < now() - interval '2 minutes')`,
      [station],
    );
    const { rows: others } = await db.query('select 1 from broadcast where station_id = $1 and ended_at is null', [station]);
    if (others.length > 0) throw new HttpError(409, 'on-the-air', 'This station is on the air already, from another desk. Take it off the air there first.');
    const id = randomUUID();
    await db.query('insert into broadcast (id, station_id, episode_id, settings) values ($1, $2, $3, $4)', [id, station, episode, JSON.stringify(rows[0].settings)]);
    await wake(db, id);
    return findBroadcast(db, episode, id);
  });
}

/** Asks for the end of a stream; what has come is still sent. @throws {HttpError} 404 */
export async function endBroadcast(db: Querier, episode: string, id: string, reason: string): Promise<Broadcast> {
  await db.query(
    `update broadcast set ending_at = coalesce(ending_at, now()), reason = case when ending_at is null then $3 else reason end
      where episode_id = $1 and id = $2 and ended_at is null`,
    [episode, id, reason],
  );
  await wake(db, id);
  return findBroadcast(db, episode, id);
}

/** Keeps a piece for the sender, once however often it is sent. @throws {HttpError} 404, 410 when the stream has ended */
export async function keepPiece(pool: pg.Pool, episode: string, id: string, facts: PieceFacts, packets: Uint8Array): Promise<Broadcast> {
  const { number, session, from, samples, lateMs } = facts;
  await inTransaction(pool, async (db) => {
    const { rowCount } = await db.query(
      'update broadcast set next_piece = greatest(next_piece, $3), fed_at = now() where episode_id = $1 and id = $2 and ended_at is null and ending_at is null',
      [episode, id, number + 1],
    );
    if (rowCount === 0) {
      const { reason } = await findBroadcast(db, episode, id);
      throw new HttpError(410, 'off-the-air', `This stream has ended. ${reason}`.trim());
    }
    await db.query(
      `insert into air_piece (broadcast_id, number, session, from_sample, samples, late_ms, packets) values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing`,
      [id, number, session, from, samples, lateMs, packets],
    );
    await db.query('delete from air_piece where broadcast_id = $1 and number <= $2', [id, number - MOST_WAITING_PIECES]);
    await wake(db, id);
  });
  return findBroadcast(pool, episode, id);
}

/** What listeners read from a sample on. @throws {HttpError} 404 */
export async function sayTitle(db: Querier, episode: string, id: string, { text, by, session, sample }: AirTitle): Promise<void> {
  const { rowCount } = await db.query(
    `insert into air_title (broadcast_id, text, said_by, session, sample)
     select id, $3, $4, $5, $6 from broadcast where episode_id = $1 and id = $2 and ended_at is null`,
    [episode, id, text, by, session, sample],
  );
  if (rowCount === 0) throw notFound('broadcast on the air');
  await wake(db, id);
}

const titleRow: z.ZodType<SentTitle> = z
  .object({ text: z.string(), by: z.enum(TITLE_ORIGINS), saidAt: z.date(), sentAt: z.date().nullable() })
  .transform(({ saidAt, sentAt, ...row }) => ({ ...row, saidAt: saidAt.toISOString(), sentAt: sentAt?.toISOString() ?? null })) as unknown as z.ZodType<SentTitle>;

/** All titles of a stream, in order. */
export async function listTitles(db: Querier, id: string): Promise<SentTitle[]> {
  const { rows } = await db.query('select text, said_by as by, said_at as "saidAt", sent_at as "sentAt" from air_title where broadcast_id = $1 order by id', [id]);
  return rows.map((row) => titleRow.parse(row));
}

/** What was on the air of an episode within a time, in order. */
export async function titlesBetween(db: Querier, episode: string, from: Date, to: Date): Promise<SentTitle[]> {
  const { rows } = await db.query(
    `select text, said_by as by, said_at as "saidAt", air_title.sent_at as "sentAt" from air_title join broadcast on broadcast.id = broadcast_id
      where episode_id = $1 and air_title.sent_at >= $2 and air_title.sent_at < $3 order by air_title.id`,
    [episode, from, to],
  );
  return rows.map((row) => titleRow.parse(row));
}

const wake = (db: Querier, id: string): Promise<unknown> => db.query('select pg_notify($1, $2)', [AIR_CHANNEL, id]);

// What follows is for the sender alone.

export interface BroadcastWork {
  id: string;
  station: string | null;
  settings: z.infer<typeof stationSchema>;
  ending: boolean;
  reason: string;
  reconnections: number;
  bytes: number;
  droppedMs: number;
  silenceMs: number;
}

const workRow: z.ZodType<BroadcastWork> = z.object({ id: z.uuid(), station: z.uuid().nullable(), settings: stationSchema, ending: z.boolean(), reason: z.string(), reconnections: z.number(), bytes: z.coerce.number(), droppedMs: z.coerce.number(), silenceMs: z.coerce.number() });

/** Every stream that has not ended. */
export async function runningBroadcasts(db: Querier): Promise<BroadcastWork[]> {
  const { rows } = await db.query('select id, station_id as station, settings, ending_at is not null as ending, reason, reconnections, bytes, dropped_ms as "droppedMs", silence_ms as "silenceMs" from broadcast where ended_at is null order by started_at');
  return rows.map((row) => workRow.parse(row));
}

const pieceRow = z.object({ number: z.number(), session: z.coerce.number(), from: z.coerce.number(), samples: z.number(), lateMs: z.number(), agoMs: z.coerce.number(), packets: z.instanceof(Uint8Array) });
export type KeptPiece = z.infer<typeof pieceRow>;

/** Pieces after a number, in order; they are then the sender's alone. */
export async function takePieces(db: Querier, id: string): Promise<KeptPiece[]> {
  const { rows } = await db.query(
    `delete from air_piece where broadcast_id = $1
     returning number, session, from_sample as from, samples, late_ms as "lateMs", 1000 * extract(epoch from clock_timestamp() - came_at) as "agoMs", packets`,
    [id],
  );
  return rows.map((row) => pieceRow.parse(row)).sort((a, b) => a.number - b.number);
}

const newTitleRow = z.object({ id: z.string(), text: z.string(), session: z.coerce.number(), sample: z.coerce.number() });
export type NewTitle = z.infer<typeof newTitleRow>;

export async function titlesAfter(db: Querier, id: string, after: string): Promise<NewTitle[]> {
  const { rows } = await db.query('select id::text, text, session, sample from air_title where broadcast_id = $1 and id > $2 order by id', [id, after]);
  return rows.map((row) => newTitleRow.parse(row));
}

/** The title that was taken last, and which that was: a sender that begins anew goes on with it. */
export async function lastSentTitle(db: Querier, id: string): Promise<{ id: string; text: string }> {
  const { rows } = await db.query<{ id: string; text: string }>('select id::text, text from air_title where broadcast_id = $1 and sent_at is not null order by id desc limit 1', [id]);
  return rows[0] ?? { id: '0', text: '' };
}

export async function noteTitleSent(db: Querier, broadcast: string, title: string): Promise<void> {
  await db.query('update air_title set sent_at = now() where id = $1', [title]);
  await db.query('update broadcast set title = (select text from air_title where id = $2) where id = $1', [broadcast, title]);
}

export interface Progress {
  state: BroadcastState;
  reason: string;
  on: boolean;
  bytes: number;
  reconnections: number;
  droppedMs: number;
  silenceMs: number;
  bufferedMs: number;
  sent: { session: number; sample: number; agoMs: number } | null;
}

/** How it goes; the reason of an end that was asked for stays. */
export async function noteProgress(db: Querier, id: string, progress: Progress): Promise<void> {
  const { state, reason, on, bytes, reconnections, droppedMs, silenceMs, bufferedMs, sent } = progress;
  await db.query(
    `update broadcast set state = $2, reason = case when ending_at is null or reason = '' then $3 else reason end,
            on_since = case when $4 then coalesce(on_since, now()) end, bytes = $5, reconnections = $6, dropped_ms = $7, silence_ms = $8,
            buffered_ms = $9, sent_session = coalesce($10, sent_session), sent_sample = coalesce($11, sent_sample),
            sent_at = coalesce(clock_timestamp() - $12 * interval '1 millisecond', sent_at),
            ended_at = case when $2 = 'ended' then now() end
      where id = $1 and ended_at is null`,
    [id, state, reason, on, bytes, reconnections, droppedMs, silenceMs, bufferedMs, sent?.session ?? null, sent?.sample ?? null, sent?.agoMs ?? null],
  );
}
