import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** Length of every stored piece but the last; none longer is ever in memory. */
export const SOUND_PIECE_BYTES = 4 * 2 ** 20;

/** A file of sound that is not in memory whole. */
export interface SoundFile {
  bytes: number;
  sha256: Buffer;
  /** Its first bytes, which say what it is. */
  head: Buffer;
  pieces(): AsyncIterable<Buffer>;
}

const HEAD_BYTES = 4096;

/** Sound that came with the product, or is small for another reason. */
export function soundInMemory(audio: Buffer): SoundFile {
  return {
    bytes: audio.length,
    sha256: createHash('sha256').update(audio).digest(),
    head: audio.subarray(0, HEAD_BYTES),
    async *pieces() {
      for (let at = 0; at < audio.length; at += SOUND_PIECE_BYTES) yield audio.subarray(at, at + SOUND_PIECE_BYTES);
    },
  };
}

/** Takes sound in as it comes onto this server's disk, hands it over, and removes it. */
export async function withSpooledSound<Result>(parts: AsyncIterable<Uint8Array>, work: (file: SoundFile) => Promise<Result>): Promise<Result> {
  const folder = await mkdtemp(join(tmpdir(), 'brisk-lantern-sound-'));
  try {
    const path = join(folder, 'sound');
    const hash = createHash('sha256');
    const file = await open(path, 'w');
    let bytes = 0;
    let head = Buffer.alloc(0);
    try {
      for await (const part of parts) {
        hash.update(part);
        if (head.length < HEAD_BYTES) head = Buffer.concat([head, part]).subarray(0, HEAD_BYTES);
        await file.write(part, 0, part.length, bytes);
        bytes += part.length;
      }
    } finally {
      await file.close();
    }
    return await work({ bytes, sha256: hash.digest(), head, pieces: () => createReadStream(path, { highWaterMark: SOUND_PIECE_BYTES }) as AsyncIterable<Buffer> });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Stores a sound's pieces under a new id. Only within a transaction that also makes the sound. */
export async function storeSoundPieces(db: Querier, file: SoundFile): Promise<string> {
  const id = randomUUID();
  let index = 0;
  for await (const bytes of file.pieces()) await db.query('insert into sound_piece (sound_id, index, bytes) values ($1, $2, $3)', [id, index++, bytes]);
  return id;
}

/** What a sound's file is, without its sound. @throws {HttpError} 404 */
export async function findSoundFile(db: Querier, id: string): Promise<{ mediaType: string; bytes: number }> {
  const { rows } = await db.query<{ media_type: string; length_bytes: string }>('select media_type, length_bytes from sound where id = $1', [id]);
  if (rows.length === 0) throw notFound('sound');
  return { mediaType: rows[0].media_type, bytes: Number(rows[0].length_bytes) };
}

/** A sound's file as it was given, a piece at a time. */
export async function* soundPieces(db: Querier, id: string): AsyncGenerator<Buffer> {
  for (let index = 0; ; index++) {
    const { rows } = await db.query<{ bytes: Buffer }>('select bytes from sound_piece where sound_id = $1 and index = $2', [id, index]);
    if (rows.length === 0) return;
    yield rows[0].bytes;
  }
}
