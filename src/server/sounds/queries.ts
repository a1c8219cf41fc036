import { fitEdit, type SoundEdit } from '@/core/sounds/sound-edit';
import { SOUND_KINDS, type SoundKind } from '@/core/sounds/sound-kind';
import type { LibrarySound } from '@/core/sounds/library-sound';
import type { SoundMeasures } from '@/core/sounds/measure-sound';
import { z } from '@/core/zod';
import type pg from 'pg';
import { inTransaction, type Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { storeSoundPieces, type SoundFile } from './sound-file';

export interface NewSound {
  show: string;
  name: string;
  kind: SoundKind;
  credit: string;
  fileName: string;
  mediaType: string;
  file: SoundFile;
  measures: SoundMeasures;
}

/** Only within a transaction. */
export async function insertSound(db: Querier, sound: NewSound): Promise<string> {
  const id = await storeSoundPieces(db, sound.file);
  await db.query(
    `insert into sound (id, show_id, name, kind, file_name, media_type, sha256, length_bytes, length_samples, integrated_lufs, short_term_lufs,
                        true_peak_db, head_silence_samples, tail_silence_samples, credit)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)`,
    [id, sound.show, sound.name, sound.kind, sound.fileName, sound.mediaType, sound.file.sha256, sound.file.bytes, ...measuresOf(sound.measures), sound.credit],
  );
  return id;
}

/** The columns of {@link EDIT}. */
export const editColumns = {
  inSample: z.coerce.number(),
  outSample: z.coerce.number(),
  fadeInSamples: z.coerce.number(),
  fadeOutSamples: z.coerce.number(),
  loopFrom: z.coerce.number().nullable(),
  loopTo: z.coerce.number().nullable(),
};

type EditRow = { [Column in keyof typeof editColumns]: z.infer<(typeof editColumns)[Column]> };

/** A row with its columns of an edit put together. */
export function withEdit<Row extends EditRow>(row: Row): Omit<Row, keyof EditRow> & { edit: SoundEdit } {
  const { inSample, outSample, fadeInSamples, fadeOutSamples, loopFrom, loopTo, ...rest } = row;
  const loop = loopFrom === null || loopTo === null ? null : { from: loopFrom, to: loopTo };
  return { ...rest, edit: { inSample, outSample, fadeInSamples, fadeOutSamples, loop } };
}

const measuresOf = (measures: SoundMeasures) => [
  measures.lengthSamples,
  measures.integratedLufs,
  measures.shortTermLufs,
  measures.truePeakDb,
  measures.headSilenceSamples,
  measures.tailSilenceSamples,
];

const libraryRow = z.object({
  id: z.uuid(),
  name: z.string(),
  kind: z.enum(SOUND_KINDS),
  notes: z.string(),
  credit: z.string(),
  fileName: z.string(),
  lengthSamples: z.coerce.number(),
  integratedLufs: z.number().nullable(),
  shortTermLufs: z.number().nullable(),
  truePeakDb: z.number().nullable(),
  headSilenceSamples: z.coerce.number(),
  tailSilenceSamples: z.coerce.number(),
  gainDb: z.number(),
  ...editColumns,
}).transform((row): LibrarySound => withEdit(row));

/** The columns of an edit. */
export const EDIT = `in_sample as "inSample", coalesce(out_sample, length_samples) as "outSample", fade_in_samples as "fadeInSamples",
         fade_out_samples as "fadeOutSamples", loop_from as "loopFrom", loop_to as "loopTo"`;

const LIBRARY = `
  select id, name, kind, notes, credit, file_name as "fileName", length_samples as "lengthSamples",
         integrated_lufs as "integratedLufs", short_term_lufs as "shortTermLufs", true_peak_db as "truePeakDb",
         head_silence_samples as "headSilenceSamples", tail_silence_samples as "tailSilenceSamples", gain_db as "gainDb", ${EDIT}
    from sound`;

/** The sounds of a show, by name. */
export async function listSounds(db: Querier, show: string): Promise<LibrarySound[]> {
  const { rows } = await db.query(`${LIBRARY} where show_id = $1 order by lower(name)`, [show]);
  return rows.map((row) => libraryRow.parse(row));
}

export async function findSound(db: Querier, id: string): Promise<LibrarySound> {
  const { rows } = await db.query(`${LIBRARY} where id = $1`, [id]);
  if (rows.length === 0) throw notFound('sound');
  return libraryRow.parse(rows[0]);
}

export interface ImportedSound {
  show: string;
  name: string;
  kind: SoundKind;
  /** Name of the file as it was given. */
  fileName: string;
  originalSha256: Buffer;
  /** FLAC, 48 kHz. */
  file: SoundFile;
  lengthSamples: number;
  integratedLufs: number | null;
  shortTermLufs: number | null;
  truePeakDb: number | null;
  headSilenceSamples: number;
  tailSilenceSamples: number;
  gainDb: number;
}

/** Puts an imported sound into a show's library. @throws {HttpError} 409 when the same sound is there already */
export async function insertImportedSound(pool: pg.Pool, sound: ImportedSound): Promise<LibrarySound> {
  return inTransaction(pool, (client) => insertImported(client, sound));
}

async function insertImported(db: Querier, sound: ImportedSound): Promise<LibrarySound> {
  const { sha256, bytes } = sound.file;
  const { rows: same } = await db.query<{ name: string }>(
    'select name from sound where show_id = $1 and (sha256 = $2 or original_sha256 = $3)',
    [sound.show, sha256, sound.originalSha256],
  );
  if (same.length > 0) throw new HttpError(409, 'same-sound', `This sound is in the library already, as “${same[0].name}”.`);
  const id = await storeSoundPieces(db, sound.file);
  await db.query(
    `insert into sound (id, show_id, name, kind, file_name, media_type, sha256, original_sha256, length_bytes, length_samples,
                        integrated_lufs, short_term_lufs, true_peak_db, head_silence_samples, tail_silence_samples, gain_db)
     values ($1, $2, $3, $4, $5, 'audio/flac', $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)`,
    [
      id,
      sound.show,
      sound.name,
      sound.kind,
      sound.fileName,
      sha256,
      sound.originalSha256,
      bytes,
      sound.lengthSamples,
      sound.integratedLufs,
      sound.shortTermLufs,
      sound.truePeakDb,
      sound.headSilenceSamples,
      sound.tailSilenceSamples,
      sound.gainDb,
    ],
  );
  return findSound(db, id);
}

export interface SoundChange {
  name?: string;
  kind?: SoundKind;
  notes?: string;
  credit?: string;
  gainDb?: number;
  edit?: SoundEdit;
}

export async function changeSound(db: Querier, id: string, change: SoundChange): Promise<LibrarySound> {
  await db.query(
    `update sound set name = coalesce($2, name), kind = coalesce($3, kind), notes = coalesce($4, notes), gain_db = coalesce($5, gain_db), credit = coalesce($6, credit)
      where id = $1`,
    [id, change.name ?? null, change.kind ?? null, change.notes ?? null, change.gainDb ?? null, change.credit ?? null],
  );
  if (change.edit) await storeEdit(db, id, change.edit);
  return findSound(db, id);
}

/** Keeps what of a sound is played, made to fit the sound. */
async function storeEdit(db: Querier, id: string, edit: SoundEdit): Promise<void> {
  const { lengthSamples } = await findSound(db, id);
  const { inSample, outSample, fadeInSamples, fadeOutSamples, loop } = fitEdit(edit, lengthSamples);
  await db.query(
    `update sound set in_sample = $2, out_sample = $3, fade_in_samples = $4, fade_out_samples = $5, loop_from = $6, loop_to = $7
      where id = $1`,
    [id, inSample, outSample, fadeInSamples, fadeOutSamples, loop?.from ?? null, loop?.to ?? null],
  );
}

/** Takes a sound out of the library. @throws {HttpError} 409 while an episode has it on a pad */
export async function removeSound(db: Querier, id: string): Promise<void> {
  const { rows } = await db.query<{ title: string }>(
    'select title from pad join episode on episode.id = pad.episode_id where sound_id = $1 limit 1',
    [id],
  );
  if (rows.length > 0) throw new HttpError(409, 'on-a-pad', `This sound is on a pad of “${rows[0].title}”. Take it off there first.`);
  const { rowCount } = await db.query('delete from sound where id = $1', [id]);
  if (rowCount === 0) throw notFound('sound');
}
