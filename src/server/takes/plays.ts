import { stringify } from 'csv-stringify/sync';
import { z } from '@/core/zod';
import type { ReportedPlay, TakePlay } from '@/core/takes/plays';
import { SAMPLE_RATE } from '@/core/takes/chunks';
import type { Querier } from '../database';

/** Keeps what was played during a take; what was reported before is left as it is. */
export async function insertPlays(db: Querier, take: string, show: string, plays: readonly ReportedPlay[]): Promise<void> {
  await db.query(
    `insert into take_play (take_id, place, sound_id, name, kind, file_name, at_sample, length_samples, gain_db, peak_db, rms_db)
     select $1, row.place, sound.id, sound.name, sound.kind, sound.file_name, row."atSample", row."lengthSamples", row."gainDb", row."peakDb", row."rmsDb"
       from jsonb_to_recordset($3) as row(place int, sound uuid, "atSample" bigint, "lengthSamples" bigint, "gainDb" real, "peakDb" real, "rmsDb" real)
       join sound on sound.id = row.sound and sound.show_id = $2
     on conflict do nothing`,
    [take, show, JSON.stringify(plays)],
  );
}

const playRow: z.ZodType<TakePlay> = z.object({
  sound: z.uuid().nullable(),
  name: z.string(),
  kind: z.string(),
  fileName: z.string(),
  atSample: z.coerce.number(),
  lengthSamples: z.coerce.number(),
  gainDb: z.number(),
  peakDb: z.number().nullable(),
  rmsDb: z.number().nullable(),
});

/** What was played during a take, in the order of time. */
export async function listPlays(db: Querier, take: string): Promise<TakePlay[]> {
  const { rows } = await db.query(
    `select sound_id as sound, name, kind, file_name as "fileName", at_sample as "atSample", length_samples as "lengthSamples",
            gain_db as "gainDb", peak_db as "peakDb", rms_db as "rmsDb"
       from take_play where take_id = $1 order by at_sample, place`,
    [take],
  );
  return rows.map((row) => playRow.parse(row));
}

const oneDigit = (value: number | null) => (value === null ? '' : value.toFixed(1));

/** The log as a table any spreadsheet reads (RFC 4180), for reports to rights holders. */
export function playsAsCsv(plays: readonly TakePlay[]): string {
  const rows = plays.map(({ name, kind, fileName, atSample, lengthSamples, gainDb, peakDb, rmsDb }) => ({
    'start (s)': (atSample / SAMPLE_RATE).toFixed(3),
    'length (s)': (lengthSamples / SAMPLE_RATE).toFixed(3),
    sound: name,
    kind,
    file: fileName,
    'start (samples)': atSample,
    'length (samples)': lengthSamples,
    'gain (dB)': oneDigit(gainDb),
    'peak (dBFS)': oneDigit(peakDb),
    'RMS (dBFS)': oneDigit(rmsDb),
  }));
  const columns = ['start (s)', 'length (s)', 'sound', 'kind', 'file', 'start (samples)', 'length (samples)', 'gain (dB)', 'peak (dBFS)', 'RMS (dBFS)'];
  // A name that begins like a formula must not become one in a spreadsheet.
  return stringify(rows, { header: true, columns, record_delimiter: 'windows', cast: { string: guardFormula } });
}

/** A text that a spreadsheet would compute is marked as text; what is nothing but a number is left a number. */
export const guardFormula = (text: string): string => (/^\s*[=+\-@|%\t\r＝＋－＠]/.test(text) && !/^-?\d+(\.\d+)?$/.test(text) ? `'${text}` : text);
