import type { Querier } from '../database';
import { HttpError } from '../http/errors';

export interface Cover {
  bytes: Buffer;
  mediaType: 'image/png' | 'image/jpeg';
}

/** By their first bytes (PNG, ISO/IEC 15948; JPEG, ISO/IEC 10918). */
const SIGNATURES: [Cover['mediaType'], number[]][] = [
  ['image/png', [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]],
  ['image/jpeg', [0xff, 0xd8, 0xff]],
];

/** What kind of picture it is, whatever its name says. @throws {HttpError} 422 when it is none that players show */
export function pictureType(bytes: Uint8Array): Cover['mediaType'] {
  const found = SIGNATURES.find(([, signature]) => signature.every((byte, k) => bytes[k] === byte));
  if (!found) throw new HttpError(422, 'not-a-picture', 'A cover is a PNG or a JPEG picture; this file is neither. The cover was not changed.');
  return found[0];
}

export async function findCover(db: Querier, show: string): Promise<Cover | null> {
  const { rows } = await db.query<{ cover: Buffer | null; cover_type: Cover['mediaType'] }>('select cover, cover_type from show where id = $1', [show]);
  const [row] = rows;
  return row?.cover ? { bytes: row.cover, mediaType: row.cover_type } : null;
}

/** Null takes the cover away. */
export async function storeCover(db: Querier, show: string, cover: Cover | null): Promise<void> {
  await db.query('update show set cover = $2, cover_type = $3 where id = $1', [show, cover?.bytes ?? null, cover?.mediaType ?? null]);
}
