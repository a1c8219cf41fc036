import { connect } from '../src/server/database';

/** Lets somebody of the newest episode be a practice caller with a voice of the demo's, on a headset and a good network. */
export async function sitPractice(fullName: string, voice: string): Promise<void> {
  const pool = connect(process.env.BROWSER_DATABASE_URL);
  const { rowCount } = await pool.query(
    `update seat set line = 'practice', practice = $2
      where episode_id = (select id from episode order by created_at desc limit 1)
        and person_id in (select id from person where full_name = $1)`,
    [fullName, JSON.stringify({ voice, loudspeakers: false, network: 'good' })],
  );
  await pool.end();
  if (rowCount !== 1) throw new Error(`${fullName} is not in the newest episode.`);
}
