import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** Length of every stored piece but the last. */
export const PIECE_BYTES = 4 * 2 ** 20;

/** Keeps a finished file in the database. An earlier try of the same task is replaced. */
export async function storeFile(db: Querier, task: string, path: string, name: string, mediaType: string, onProgress: (share: number) => Promise<void>): Promise<number> {
  const { size } = await stat(path);
  await db.query('delete from export_file where task_id = $1', [task]);
  await db.query('delete from export_piece where task_id = $1', [task]);
  let index = 0;
  for await (const piece of createReadStream(path, { highWaterMark: PIECE_BYTES }) as AsyncIterable<Buffer>) {
    await db.query('insert into export_piece (task_id, index, bytes) values ($1, $2, $3)', [task, index++, piece]);
    await onProgress(Math.min(1, (index * PIECE_BYTES) / size));
  }
  await db.query('insert into export_file (task_id, file_name, media_type, length_bytes) values ($1, $2, $3, $4)', [task, name, mediaType, size]);
  return size;
}

export interface StoredFile {
  name: string;
  mediaType: string;
  bytes: number;
}

/** The file a task made. @throws {HttpError} 404 when there is none, or not yet */
export async function findFile(db: Querier, take: string, task: string): Promise<StoredFile> {
  const { rows } = await db.query<{ file_name: string; media_type: string; length_bytes: string }>(
    `select file_name, media_type, length_bytes from export_file join task on task.id = task_id where task_id = $1 and take_id = $2 and state = 'done'`,
    [task, take],
  );
  if (rows.length === 0) throw notFound('file');
  return { name: rows[0].file_name, mediaType: rows[0].media_type, bytes: Number(rows[0].length_bytes) };
}

/** Bytes `from` to `to` (exclusive) of a task's file. */
export async function* fileBytes(db: Querier, task: string, from: number, to: number): AsyncGenerator<Uint8Array> {
  for (let at = from; at < to; ) {
    const index = Math.floor(at / PIECE_BYTES);
    const { rows } = await db.query<{ bytes: Buffer }>('select bytes from export_piece where task_id = $1 and index = $2', [task, index]);
    if (rows.length === 0) throw new Error('A piece of this file is gone.');
    const piece = rows[0].bytes.subarray(at - index * PIECE_BYTES, to - index * PIECE_BYTES);
    yield piece;
    at += piece.length;
  }
}
