import { beforeAll, describe, expect, it } from 'vitest';
import { issueInvitation } from '../access/invitations';
import { insertColleagueLink } from '../access/accounts';
import { countAttempt } from '../access/attempts';
import { knowBrowser } from '../access/known-browsers';
import { beginSignIn } from '../access/sign-ins';
import { newToken } from '../access/tokens';
import { insertTask } from '../jobs/tasks';
import { addSeat, insertConsent } from '../seats/queries';
import { beginTake } from '../takes/begin-take';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { KEPT, sweep } from './sweep';

const db = testDatabase();

/** How old each thing has to be, and how it is made as old as an SQL interval says. */
const AGES: Record<string, { age: string; make: (old: string) => Promise<unknown> }> = {};
let kept: { show: string; episode: string; account: string };

const aged = (table: string, columns: string[], where = 'true') => (old: string) =>
  db.pool().query(`update ${table} set ${columns.map((column) => `${column} = now() - (${old})`).join(', ')} where ${where}`);

beforeAll(async () => {
  const pool = db.pool();
  const [episode, account] = [await demoEpisode(pool), await demoAccount(pool)];
  const { rows } = await pool.query<{ show: string }>('select show_id as show from episode');
  kept = { show: rows[0].show, episode, account };
  Object.assign(AGES, {
    messages: { age: `${KEPT.messageMinutes} minutes`, make: aged('message', ['sent_at']) },
    windows: { age: `${KEPT.windowHours} hours`, make: aged('open_window', ['seen_at']) },
    attempts: { age: `${KEPT.attemptDays} days`, make: aged('attempt_count', ['began_at']) },
    'sign-ins': { age: '0 days', make: aged('sign_in', ['expires_at']) },
    'known browsers': { age: `${KEPT.knownBrowserDays} days`, make: aged('known_browser', ['seen_at']) },
    invitations: { age: `${KEPT.endedLinkDays} days`, make: aged('invitation', ['expires_at']) },
    'colleagues’ links': { age: `${KEPT.endedLinkDays} days`, make: aged('colleague_link', ['expires_at']) },
    'plan versions': { age: `${KEPT.planVersionDays} days`, make: aged('plan_version', ['stored_at']) },
    exports: { age: `${KEPT.exportDays} days`, make: aged('task', ['ended_at'], "kind = 'export'") },
    'ended tasks': { age: `${KEPT.endedTaskDays} days`, make: aged('task', ['ended_at'], "kind = 'check'") },
    consents: { age: `${KEPT.consentDays} days`, make: aged('consent', ['agreed_at']) },
    'takes in the bin': { age: `${KEPT.binDays} days`, make: aged('take', ['binned_at'], 'binned_at is not null') },
    'empty home recordings': { age: '1 day', make: aged('home_recording', ['began_at', 'heard_at']) },
  });
});

/** One of everything that is swept, new; and beside it what is kept for ever. */
async function oneOfEach(): Promise<void> {
  const pool = db.pool();
  const { show, episode, account } = kept;
  await pool.query('delete from plan_version');
  await pool.query(`insert into plan_version (episode_id, version, body) select $1, n, '{}' from generate_series(1, ${KEPT.planVersions + 1}) n`, [episode]);
  await pool.query(`insert into message (episode_id, sender, recipient, body) values ($1, 'desk', 'ines', '{}')`, [episode]);
  await pool.query('insert into open_window (episode_id, party, window_id, stream_id) values ($1, $2, gen_random_uuid(), gen_random_uuid())', [episode, 'desk']);
  await countAttempt(pool, { bucket: `sweep/${Math.random()}`, most: 5, seconds: 600 });
  await beginSignIn(pool, account);
  await knowBrowser(pool, account);
  const { id: seat } = await addSeat(pool, episode, { name: 'Ines', fullName: 'Ines Carrow', about: '', reflexive: 'herself', role: 'caller', line: 'link' });
  await issueInvitation(pool, episode, seat, 7);
  await insertColleagueLink(pool, show, account, 'producer', newToken().hash, 7);
  await insertConsent(pool, episode, { seat, name: 'Ines Carrow', wording: 'yes' });
  const voice = [{ kind: 'voice', recorded: `voice:${seat}`, name: 'Ines', channels: 1, format: 'pcm24' }] as const;
  const { take } = await beginTake(pool, episode, voice);
  await pool.query("insert into home_recording (take_id, seat_id, key_hash, format) values ($1, $2, $3, 'pcm24')", [take, seat, newToken().hash]);
  const binned = await beginTake(pool, episode, voice);
  await pool.query("update take set state = 'sealed', sealed_at = now(), length_samples = 0, binned_at = now() where id = $1", [binned.take]);
  for (const [kind, state] of [['export', 'done'], ['check', 'failed']] as const) {
    const task = await insertTask(pool, take, { kind, params: {} } as never);
    await pool.query('update task set state = $2, ended_at = now() where id = $1', [task, state]);
  }
}

describe('the sweep', () => {
  it('removes each kind when it is old enough, a moment before not yet, and nothing that people made', async () => {
    await oneOfEach();
    await sweep(db.pool());
    const count = async () => (await db.pool().query<{ counts: object }>(
      "select jsonb_build_object('takes', (select count(*) from take where binned_at is null), 'plans', (select count(*) from episode), 'sounds', (select count(*) from sound), 'agreed', (select count(*) from take_consent join take on take.id = take_id where binned_at is null), 'versions', (select count(*) from plan_version)) as counts",
    )).rows[0].counts;
    const before = await count();
    for (const [what, { age, make }] of Object.entries(AGES)) {
      await make(`interval '${age}' - interval '5 minutes'`);
      expect((await sweep(db.pool()))[what], `${what}, young`).toBe(0);
      await make(`interval '${age}' + interval '5 minutes'`);
      expect((await sweep(db.pool()))[what], what).toBeGreaterThan(0);
    }
    // The newest versions of a plan stay, however old they are.
    expect(await count()).toEqual({ ...before, versions: KEPT.planVersions });
  });
});
