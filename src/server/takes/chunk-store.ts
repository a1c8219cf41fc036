import type pg from 'pg';
import { to as copyTo } from 'pg-copy-streams';
import type { Querier } from '../database';
import { copiedRows } from './copy-rows';

/** A chunk of one track as it is kept: sound and what a drawing of it needs, in one row. */
export interface StoredChunk {
  index: number;
  frames: number;
  sha256: Buffer;
  samples: Buffer;
  peaks: Buffer;
  peak: number;
  sumOfSquares: number;
}

/** Stores a chunk unless its place is taken. Returns whether it was stored. */
export async function insertChunk(db: Querier, track: string, chunk: StoredChunk): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into chunk (track_id, index, frames, sha256, samples, peaks, peak, sum_of_squares)
     values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict do nothing`,
    [track, chunk.index, chunk.frames, chunk.sha256, chunk.samples, chunk.peaks, chunk.peak, chunk.sumOfSquares],
  );
  return rowCount === 1;
}

/** Checksum of the chunk in a place, or null where there is none. */
export async function chunkChecksum(db: Querier, track: string, index: number): Promise<Buffer | null> {
  const { rows } = await db.query<{ sha256: Buffer }>(
    'select sha256 from chunk where track_id = $1 and index = $2',
    [track, index],
  );
  return rows[0]?.sha256 ?? null;
}

/** Sound of one chunk, or null where there is none. */
export async function readChunk(db: Querier, track: string, index: number): Promise<Buffer | null> {
  const { rows } = await db.query<{ samples: Buffer }>(
    'select samples from chunk where track_id = $1 and index = $2',
    [track, index],
  );
  return rows[0]?.samples ?? null;
}

/** COPY takes no parameters: what is asked for is put into settings of the connection first. */
const ASK_FOR = `select set_config('chunks.track', $1, false), set_config('chunks.first', $2, false), set_config('chunks.end', $3, false)`;
const COPY_THEM = `copy (select index, samples from chunk
  where track_id = current_setting('chunks.track')::uuid and index >= current_setting('chunks.first')::int and index < current_setting('chunks.end')::int
  order by index) to stdout (format binary)`;

/**
 * Sound of chunks `first` to `end` (exclusive) by their index; none where nothing arrived. As COPY, for as a value of a row sound
 * comes as text, twice as long.
 */
export async function readChunks(pool: pg.Pool, track: string, first: number, end: number): Promise<Map<number, Buffer>> {
  const client = await pool.connect();
  try {
    await client.query(ASK_FOR, [track, String(first), String(end)]);
    const parts: Buffer[] = [];
    for await (const part of client.query(copyTo(COPY_THEM)) as AsyncIterable<Buffer>) parts.push(part);
    client.release();
    return new Map([...copiedRows(Buffer.concat(parts))].map(([index, samples]) => [index.readInt32BE(0), samples]));
  } catch (error) {
    // Where COPY broke off is not known.
    client.release(error as Error);
    throw error;
  }
}

/** Which chunks a take has, without their sound. */
export async function listChunks(db: Querier, take: string): Promise<{ track: string; index: number; frames: number }[]> {
  const { rows } = await db.query<{ track: string; index: number; frames: number }>(
    `select chunk.track_id as track, chunk.index, chunk.frames
       from chunk join track on track.id = chunk.track_id
      where track.take_id = $1 order by chunk.track_id, chunk.index`,
    [take],
  );
  return rows;
}

/** The outlines of a track's chunks from `first` to `end` (exclusive), in order. */
export async function readPeaks(db: Querier, track: string, first: number, end: number): Promise<{ index: number; peaks: Buffer }[]> {
  const { rows } = await db.query<{ index: number; peaks: Buffer }>(
    'select index, peaks from chunk where track_id = $1 and index >= $2 and index < $3 order by index',
    [track, first, end],
  );
  return rows;
}

/** The outline of a whole track, one column a second; null until it was made. */
export async function readOverview(db: Querier, track: string): Promise<Buffer | null> {
  const { rows } = await db.query<{ overview: Buffer | null }>('select overview from track where id = $1', [track]);
  return rows[0]?.overview ?? null;
}

/** Keeps an outline of a track of a sealed take: nothing can be added to it any more. */
export async function keepOverview(db: Querier, track: string, overview: Buffer): Promise<void> {
  await db.query(`update track set overview = $2 from take where track.id = $1 and take.id = take_id and take.state = 'sealed'`, [track, overview]);
}
