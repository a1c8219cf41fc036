import type { HearingPlan } from '../src/core/hearing/plan';
import { connect } from '../src/server/database';

/** When the plan of the newest take changed, in its samples; what it began with is not a change. */
export async function newestPlanChanges(): Promise<number[]> {
  const pool = connect(process.env.BROWSER_DATABASE_URL);
  const { rows } = await pool.query(
    'select at_sample from take_plan_change where take_id = (select id from take order by started_at desc limit 1) and at_sample > 0 order by place',
  );
  await pool.end();
  return (rows as { at_sample: string }[]).map((row) => Number(row.at_sample));
}

/** The newest take as the database has it. */
export async function readTake(): Promise<{ plan: HearingPlan; clockAtStart: number; clockAtCall: number; lengthSamples: number }> {
  const pool = connect(process.env.BROWSER_DATABASE_URL);
  const { rows } = await pool.query('select plan, clock_at_start, clock_at_call, length_samples from take order by started_at desc limit 1');
  await pool.end();
  const [row] = rows as { plan: HearingPlan; clock_at_start: string; clock_at_call: string; length_samples: string }[];
  return { plan: row.plan, clockAtStart: Number(row.clock_at_start), clockAtCall: Number(row.clock_at_call), lengthSamples: Number(row.length_samples) };
}

interface Gap {
  recorded: string;
  atSample: number;
  lengthSamples: number;
  cause: string;
}

/** What the newest take lists as missing. */
export async function newestGaps(database = process.env.BROWSER_DATABASE_URL): Promise<Gap[]> {
  const pool = connect(database);
  const { rows } = await pool.query(
    `select recorded, at_sample, gap.length_samples, cause from gap join track on track.id = track_id
      where take_id = (select id from take order by started_at desc limit 1)`,
  );
  await pool.end();
  return (rows as { recorded: string; at_sample: string; length_samples: string; cause: string }[]).map((row) => ({ recorded: row.recorded, atSample: Number(row.at_sample), lengthSamples: Number(row.length_samples), cause: row.cause }));
}

/** Of that, what no device is to blame for: where the machine is held up, a made-up device is late like any other, and is said to be. */
export const newestFaults = async (database?: string): Promise<Gap[]> => (await newestGaps(database)).filter(({ cause }) => cause !== 'device-late');
