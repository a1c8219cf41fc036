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
