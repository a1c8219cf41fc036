// `npm run restore -- FILE`: a backup into an empty database; every chunk of sound is held against its checksum afterwards.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { findServer } from './postgres.mjs';
import { runMain, Trouble } from './trouble.mjs';
import { openDatabase } from './which-database.mjs';

const OWN_TABLES = "select count(*)::int as count from information_schema.tables where table_schema = 'public'";
/** Sound as it lies there, by PostgreSQL's own SHA-256. */
const CHUNKS = 'select count(*)::int as count, count(*) filter (where sha256(samples) <> sha256)::int as wrong from chunk';

async function ask(url, text) {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query(text)).rows[0];
  } finally {
    await client.end();
  }
}

await runMain(async () => {
  const [file] = process.argv.slice(2);
  if (!file || !existsSync(file)) throw new Trouble(file ? `There is no file ${file}.` : 'Say which backup: npm run restore -- /somewhere/lantern-2026-11-28.backup');
  const { url, running, done } = await openDatabase();
  try {
    if (running) throw new Trouble('The product runs on this database. Stop it with Ctrl-C first.');
    if ((await ask(url, OWN_TABLES)).count > 0) throw new Trouble('This database is not empty, and nothing was changed. Restore into a new one: move the folder data away, or set DATABASE_URL to an empty database.');
    const restored = spawnSync(join(await findServer(), 'pg_restore'), ['--no-owner', '--no-privileges', '--exit-on-error', '--single-transaction', `--dbname=${url}`, file], { encoding: 'utf8' });
    if (restored.status !== 0) throw new Trouble(`Nothing was restored, and the database is as empty as it was: ${restored.stderr.trim().split('\n').at(-1)}`);
    const { count, wrong } = await ask(url, CHUNKS);
    if (wrong > 0) throw new Trouble(`${wrong} of ${count} chunks of sound are not what they were. The backup is damaged: use another one.`);
    console.log(`Everything is there again; ${count} chunks of sound agree with their checksums. Start it with npm start.`);
  } finally {
    done();
  }
});
