// `npm run backup -- FILE`: the whole database in one file, as it was at one moment, also while the product runs.
import { spawnSync } from 'node:child_process';
import { existsSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { findServer } from './postgres.mjs';
import { runMain, Trouble } from './trouble.mjs';
import { openDatabase } from './which-database.mjs';

await runMain(async () => {
  const [file] = process.argv.slice(2);
  if (!file) throw new Trouble('Say where it should go: npm run backup -- /somewhere/lantern-2026-11-28.backup');
  if (existsSync(file)) throw new Trouble(`There is a file ${file} already; it is not written over. Choose another name.`);
  const { url, done } = await openDatabase();
  const partial = `${file}.partial`;
  try {
    // Sound hardly gets smaller; what is on its way to the air is of no use later.
    const made = spawnSync(join(await findServer(), 'pg_dump'), ['--format=custom', '--compress=0', '--no-owner', '--no-privileges', '--exclude-table-data=air_piece', `--file=${partial}`, url], { encoding: 'utf8' });
    if (made.status !== 0) throw new Trouble(`The backup was not made: ${made.stderr.trim().split('\n').at(-1)}`);
    renameSync(partial, file);
  } finally {
    rmSync(partial, { force: true });
    done();
  }
  console.log(`${file} holds everything, ${(statSync(file).size / 1e6).toFixed(1)} MB. Keep data/secret-key beside it: without it the passwords of stations have to be typed again.`);
});
