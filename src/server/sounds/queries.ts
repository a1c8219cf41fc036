import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

const soundRow = z.object({ media_type: z.string(), audio: z.instanceof(Buffer), sha256: z.instanceof(Buffer) });

/** A sound's file as it was given. */
export async function findSoundFile(db: Querier, id: string): Promise<z.infer<typeof soundRow>> {
  const { rows } = await db.query('select media_type, audio, sha256 from sound where id = $1', [id]);
  if (rows.length === 0) throw notFound('sound');
  return soundRow.parse(rows[0]);
}

export interface NewSound {
  show: string;
  name: string;
  fileName: string;
  mediaType: string;
  audio: Buffer;
  lengthSamples: number;
}

export async function insertSound(db: Querier, sound: NewSound): Promise<string> {
  const sha256 = createHash('sha256').update(sound.audio).digest();
  const { rows } = await db.query<{ id: string }>(
    `insert into sound (show_id, name, file_name, media_type, sha256, audio, length_samples)
     values ($1, $2, $3, $4, $5, $6, $7) returning id`,
    [sound.show, sound.name, sound.fileName, sound.mediaType, sha256, sound.audio, sound.lengthSamples],
  );
  return rows[0].id;
}
