import { TRACK_CHECK_VERSION, type TrackCheck } from '@/core/checks/track-check';
import type { Querier } from '../database';
import type { MeasuredTrack } from './track-measure';

/** After this long without a word whoever measures a take counts as gone. */
const SILENT_SECONDS = 15;

/** What was measured of a sealed take's tracks so far, by their ids. */
export async function keptMeasures(db: Querier, take: string): Promise<Map<string, MeasuredTrack>> {
  const { rows } = await db.query<{ id: string; measured: TrackCheck; steps: Buffer }>(
    `select track.id, measured, steps from track_measure join track on track.id = track_id where take_id = $1 and version = ${TRACK_CHECK_VERSION}`,
    [take],
  );
  return new Map(rows.map(({ id, measured, steps }) => [id, { measured, steps: Array.from({ length: steps.length / 8 }, (_, k) => steps.readDoubleLE(8 * k)) }]));
}

/** Keeps what was measured of a track; of one that was erased meanwhile there is nothing to keep. */
export async function keepMeasure(db: Querier, track: string, { measured, steps }: MeasuredTrack): Promise<void> {
  const bytes = Buffer.alloc(8 * steps.length);
  steps.forEach((power, k) => bytes.writeDoubleLE(power, 8 * k));
  await db.query(
    `insert into track_measure (track_id, version, measured, steps) select id, ${TRACK_CHECK_VERSION}, $2, $3 from track where id = $1
     on conflict (track_id) do update set version = excluded.version, measured = excluded.measured, steps = excluded.steps`,
    [track, JSON.stringify(measured), bytes],
  );
}

/** Takes that sound has come of within the last minute and that nobody measures while they are recorded. */
export async function takesToFollow(db: Querier): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    `select id from take where state = 'recording'
        and exists (select 1 from track join lateral (select received_at from chunk where track_id = track.id order by index desc limit 1) newest on true
                     where track.take_id = take.id and newest.received_at > now() - interval '1 minute')
        and not exists (select 1 from take_measuring where take_id = take.id and heard_at > now() - interval '${SILENT_SECONDS} seconds')`,
  );
  return rows.map(({ id }) => id);
}

/** Says that a worker measures a take. False where another does. */
export async function sayMeasuring(db: Querier, take: string, worker: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into take_measuring (take_id, worker) select id, $2 from take where id = $1
     on conflict (take_id) do update set worker = excluded.worker, heard_at = now()
      where take_measuring.worker = $2 or take_measuring.heard_at < now() - interval '${SILENT_SECONDS} seconds'`,
    [take, worker],
  );
  return rowCount === 1;
}

export async function endMeasuring(db: Querier, take: string, worker: string): Promise<void> {
  await db.query('delete from take_measuring where take_id = $1 and worker = $2', [take, worker]);
}

/** Whether somebody measures a take just now. */
export async function isMeasured(db: Querier, take: string): Promise<boolean> {
  const { rowCount } = await db.query(`select 1 from take_measuring where take_id = $1 and heard_at > now() - interval '${SILENT_SECONDS} seconds'`, [take]);
  return rowCount === 1;
}
