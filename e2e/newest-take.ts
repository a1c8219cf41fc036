import type { HearingPlan } from '../src/core/hearing/plan';
import { connect } from '../src/server/database';

/** When the first change of plan of the newest take came into force, in its samples. */
export async function newestPlanChange(): Promise<number> {
  const pool = connect(process.env.BROWSER_DATABASE_URL);
  const { rows } = await pool.query(
    'select at_sample from take_plan_change join take on take.id = take_id order by take.started_at desc, place limit 1',
  );
  await pool.end();
  return Number((rows[0] as { at_sample: string }).at_sample);
}

/** The newest take as the database has it. */
export async function readTake(): Promise<{ plan: HearingPlan; clockAtStart: number; clockAtCall: number; lengthSamples: number }> {
  const pool = connect(process.env.BROWSER_DATABASE_URL);
  const { rows } = await pool.query('select plan, clock_at_start, clock_at_call, length_samples from take order by started_at desc limit 1');
  await pool.end();
  const [row] = rows as { plan: HearingPlan; clock_at_start: string; clock_at_call: string; length_samples: string }[];
  return { plan: row.plan, clockAtStart: Number(row.clock_at_start), clockAtCall: Number(row.clock_at_call), lengthSamples: Number(row.length_samples) };
}
