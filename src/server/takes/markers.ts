import { stringify } from 'csv-stringify/sync';
import { z } from '@/core/zod';
import { SAMPLE_RATE } from '@/core/takes/chunks';
import type { TakeMarker } from '@/core/takes/markers';
import type { Querier } from '../database';
import { HttpError } from '../http/errors';
import { guardFormula } from './plays';

/** More than anybody sets by hand. */
const MOST_MARKERS = 2000;

/** Keeps a marker; the same one again takes its new name and place. @throws {HttpError} 409 when the take has as many as it can hold */
export async function storeMarker(db: Querier, take: string, { id, atSample, lengthSamples, name }: TakeMarker): Promise<void> {
  const { rows } = await db.query<{ full: boolean }>(
    'select count(*) >= $2 and not coalesce(bool_or(id = $3), false) as full from take_marker where take_id = $1',
    [take, MOST_MARKERS, id],
  );
  if (rows[0].full) throw new HttpError(409, 'too-many-markers', `A take has room for ${MOST_MARKERS} markers.`);
  await db.query(
    `insert into take_marker (id, take_id, at_sample, length_samples, name) values ($1, $2, $3, $4, $5)
     on conflict (id) do update set at_sample = excluded.at_sample, length_samples = excluded.length_samples, name = excluded.name
      where take_marker.take_id = excluded.take_id`,
    [id, take, atSample, lengthSamples, name],
  );
}

const markerRow: z.ZodType<TakeMarker> = z.object({ id: z.uuid(), atSample: z.coerce.number(), lengthSamples: z.coerce.number(), name: z.string() });

/** The markers of a take, in the order of time. */
export async function listMarkers(db: Querier, take: string): Promise<TakeMarker[]> {
  const { rows } = await db.query(
    'select id, at_sample as "atSample", length_samples as "lengthSamples", name from take_marker where take_id = $1 order by at_sample, made_at',
    [take],
  );
  return rows.map((row) => markerRow.parse(row));
}

/** As a table any spreadsheet reads (RFC 4180). */
export function markersAsCsv(markers: readonly TakeMarker[]): string {
  const rows = markers.map(({ name, atSample, lengthSamples }) => [(atSample / SAMPLE_RATE).toFixed(3), (lengthSamples / SAMPLE_RATE).toFixed(3), name, atSample, lengthSamples]);
  return stringify([['start (s)', 'length (s)', 'name', 'start (samples)', 'length (samples)'], ...rows], { record_delimiter: 'windows', cast: { string: guardFormula } });
}
