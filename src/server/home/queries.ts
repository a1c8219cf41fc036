import { z } from '@/core/zod';
import { SAMPLE_FORMATS, type SampleFormat } from '@/core/formats/wav/sample-format';
import { without, type Stretch } from '@/core/alignment/home-cover';
import type { LostStretch } from '@/core/takes/chunker';
import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import type { HomeRecording } from '@/core/session/take-data';
import type { Querier } from '../database';

const homeRow = z.object({
  id: z.uuid(),
  take: z.uuid(),
  seat: z.string(),
  format: z.enum(SAMPLE_FORMATS),
  lengthSamples: z.coerce.number().nullable(),
  /** How long it can have captured, seconds: from its beginning until its link ended, its take was sealed, or now. */
  openSeconds: z.coerce.number(),
  /** How long ago its take was sealed, hours; null while it runs. */
  sealedHours: z.coerce.number().nullable(),
  binned: z.boolean(),
});
export type HomeRow = z.infer<typeof homeRow>;

const HOME = `
  select home_recording.id, take_id as take, seat_id as seat, format, home_recording.length_samples as "lengthSamples",
         extract(epoch from least(now(), closed_at, take.sealed_at) - began_at) as "openSeconds",
         extract(epoch from now() - take.sealed_at) / 3600 as "sealedHours", take.binned_at is not null as binned
    from home_recording join take on take.id = home_recording.take_id`;

/** Begins a home recording of a seat whose line is on the take. Null when it is not, or the take is closed. */
export async function insertHome(db: Querier, take: string, episode: string, seat: string, format: SampleFormat, keyHash: Buffer): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    `insert into home_recording (take_id, seat_id, key_hash, format)
     select take.id, $3, $5, $4 from take join track on track.take_id = take.id and track.kind = 'voice' and track.recorded = 'voice:' || $3
      where take.id = $1 and take.episode_id = $2 and take.state = 'recording' returning id`,
    [take, episode, seat, format, keyHash],
  );
  return rows[0]?.id ?? null;
}

export async function homeOfKey(db: Querier, keyHash: Buffer): Promise<HomeRow | null> {
  const { rows } = await db.query(`${HOME} where key_hash = $1`, [keyHash]);
  return rows.length === 0 ? null : homeRow.parse(rows[0]);
}

/** Recordings of one seat that are whole or, with `partial`, have begun; in the order they were made. */
export async function homesOfSeat(db: Querier, take: string, seat: string): Promise<HomeRow[]> {
  const { rows } = await db.query(`${HOME} where take_id = $1 and seat_id = $2 order by began_at limit 500`, [take, seat]);
  return rows.map((row) => homeRow.parse(row));
}

/** Stores a chunk unless its place is taken; returns the checksum of what is there now. */
export async function keepHomeChunk(db: Querier, home: string, chunk: { index: number; frames: number; sha256: Buffer; samples: Buffer }): Promise<Buffer> {
  const { rows } = await db.query<{ sha256: Buffer }>(
    `with added as (
       insert into home_chunk (home_id, index, frames, sha256, samples) values ($1, $2, $3, $4, $5) on conflict do nothing returning sha256),
     counted as (
       update home_recording set stored_bytes = stored_bytes + octet_length($5) where id = $1 and exists (select from added))
     select sha256 from added union all select sha256 from home_chunk where home_id = $1 and index = $2`,
    [home, chunk.index, chunk.frames, chunk.sha256, chunk.samples],
  );
  // Two senders at once: the other one was first, and this statement began before it was done.
  return rows[0]?.sha256 ?? chunk.sha256;
}

/** Checksum of the chunk in a place, or null where there is none. */
export async function homeChunkChecksum(db: Querier, home: string, index: number): Promise<Buffer | null> {
  const { rows } = await db.query<{ sha256: Buffer }>('select sha256 from home_chunk where home_id = $1 and index = $2', [home, index]);
  return rows[0]?.sha256 ?? null;
}

/** Notes how much the guest's browser has kept so far, and what of it was lost before. */
export async function noteKept(db: Querier, home: string, keptSamples: number, losses: readonly LostStretch[]): Promise<void> {
  await db.query(
    `update home_recording set heard_at = now(), kept_samples = greatest(kept_samples, $2),
            losses = case when $2 >= kept_samples then $3 else losses end where id = $1`,
    [home, keptSamples, JSON.stringify(losses)],
  );
}

/** Samples that have arrived, and whether they have no hole. */
export async function arrived(db: Querier, home: string): Promise<number> {
  const { rows } = await db.query<{ frames: string }>('select coalesce(sum(frames), 0) as frames from home_chunk where home_id = $1', [home]);
  return Number(rows[0].frames);
}

export async function markHomeComplete(db: Querier, home: string, lengthSamples: number): Promise<void> {
  await db.query('update home_recording set length_samples = $2, kept_samples = $2, heard_at = now() where id = $1', [home, lengthSamples]);
}

/** Sound of one chunk, or null where there is none. */
export async function readHomeChunk(db: Querier, home: string, index: number): Promise<Buffer | null> {
  const { rows } = await db.query<{ samples: Buffer }>('select samples from home_chunk where home_id = $1 and index = $2', [home, index]);
  return rows[0]?.samples ?? null;
}

/** Nothing more can be captured of what a seat records at home: its link or its place is taken back. */
export async function closeHomes(db: Querier, episode: string, seat: string): Promise<void> {
  await db.query(
    `update home_recording set closed_at = now() from take
      where take.id = take_id and take.episode_id = $1 and seat_id = $2 and closed_at is null and home_recording.length_samples is null`,
    [episode, seat],
  );
}

export interface HomeBytes {
  /** What is stored of one seat's recordings in a take, of all in the take, and of all in its show. */
  seat: number;
  take: number;
  show: number;
  /** Recordings of the seat in the take. */
  count: number;
}

/** How much recordings made at home take up. */
export async function homeBytes(db: Querier, take: string, seat: string): Promise<HomeBytes> {
  const { rows } = await db.query<{ [Key in keyof HomeBytes]: string }>(
    `with of_show as (
       select home.take_id, home.seat_id, stored_bytes as bytes
         from take mine join episode on episode.id = mine.episode_id
         join episode other on other.show_id = episode.show_id join take on take.episode_id = other.id
         join home_recording home on home.take_id = take.id
        where mine.id = $1)
     select coalesce(sum(bytes), 0) as show, coalesce(sum(bytes) filter (where take_id = $1), 0) as take,
            coalesce(sum(bytes) filter (where take_id = $1 and seat_id = $2), 0) as seat,
            count(*) filter (where take_id = $1 and seat_id = $2) as count
       from of_show`,
    [take, seat],
  );
  const { show, take: ofTake, seat: ofSeat, count } = rows[0];
  return { show: Number(show), take: Number(ofTake), seat: Number(ofSeat), count: Number(count) };
}

/** The home recordings of a take, beside the line tracks they belong to. */
export async function listHomes(db: Querier, take: string): Promise<HomeRecording[]> {
  const { rows } = await db.query<Omit<HomeRecording, 'keptSamples' | 'arrivedSamples'> & { kept: string; arrived: string }>(
    `select home.id, seat_id as seat, track.id as track, kept_samples as kept, length_samples is not null as complete,
            heard_at > now() - interval '1 minute' as sending,
            (select coalesce(sum(frames), 0) from home_chunk where home_id = home.id) as arrived
       from home_recording home join track on track.take_id = home.take_id and track.kind = 'voice' and track.recorded = 'voice:' || seat_id
      where home.take_id = $1 and kept_samples > 0 order by began_at`,
    [take],
  );
  return rows.map(({ kept, arrived: there, ...home }) => ({ ...home, keptSamples: Number(kept), arrivedSamples: Number(there) }));
}

/** Line tracks of a take beside which all that was recorded at home has arrived. */
export async function tracksWithHome(db: Querier, take: string): Promise<string[]> {
  const homes = await listHomes(db, take);
  const tracks = [...new Set(homes.map(({ track }) => track))];
  return tracks.filter((track) => homes.every((home) => home.track !== track || home.complete));
}

/** Stretches of a home recording that were kept and have arrived, joined; samples by the guest's clock. */
export async function arrivedStretches(db: Querier, home: string): Promise<Stretch[]> {
  const { rows: losses } = await db.query<{ atSample: number; lengthSamples: number }>(
    `select loss."atSample", loss."lengthSamples" from home_recording, jsonb_to_recordset(losses) as loss("atSample" float, "lengthSamples" float)
      where id = $1 order by loss."atSample"`,
    [home],
  );
  const { rows } = await db.query<{ index: number; frames: number }>('select index, frames from home_chunk where home_id = $1 order by index', [home]);
  const stretches: Stretch[] = [];
  for (const { index, frames } of rows) {
    const from = index * HOME_CHUNK_FRAMES;
    const last = stretches.at(-1);
    if (last?.to === from) last.to += frames;
    else stretches.push({ from, to: from + frames });
  }
  return without(stretches, losses.map(({ atSample, lengthSamples }) => ({ from: atSample, to: atSample + lengthSamples })));
}
