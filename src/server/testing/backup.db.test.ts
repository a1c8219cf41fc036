import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { createRandom } from '@/core/random';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { connect } from '../database';
import { migrate } from '../migrate';
import { beginTake } from '../takes/begin-take';
import { receiveChunks } from '../takes/receive-chunks';
import { demoEpisode, testDatabase } from './test-database';

const db = testDatabase();
const folder = mkdtempSync(join(tmpdir(), 'backup-'));
afterAll(() => rmSync(folder, { recursive: true }));

const run = (script: string, file: string, url: string) => spawnSync(process.execPath, [`scripts/${script}.mjs`, file], { encoding: 'utf8', env: { ...process.env, DATABASE_URL: url } });

/** An empty database beside the test's own. */
async function empty(name: string): Promise<string> {
  const own = new URL(db.url());
  const other = `${own.pathname.slice(1)}_${name}`;
  await db.pool().query(`create database ${other}`);
  return Object.assign(new URL(own), { pathname: `/${other}` }).href;
}

/** Every row of every table, as one number. */
async function everything(url: string): Promise<Record<string, string>> {
  const pool = connect(url);
  const { rows: tables } = await pool.query<{ name: string }>("select table_name as name from information_schema.tables where table_schema = 'public' order by 1");
  const found: Record<string, string> = {};
  for (const { name } of tables) {
    const { rows } = await pool.query<{ hash: string }>(`select md5(coalesce(string_agg(row, ',' order by row), '')) as hash from (select md5(one::text) as row from "${name}" one) rows`);
    found[name] = rows[0].hash;
  }
  await pool.end();
  return found;
}

describe('a backup', () => {
  const file = join(folder, 'one.backup');

  it('holds every row and every chunk of sound, and brings them back into an empty database', async () => {
    const episode = await demoEpisode(db.pool());
    const { take, tracks } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    const random = createRandom(5);
    for (let index = 0; index < 3; index++) {
      const samples = encodeSamples('pcm24', [Float32Array.from({ length: CHUNK_FRAMES }, () => random.between(-1, 1))], 0, CHUNK_FRAMES);
      await receiveChunks(db.pool(), take, [{ track: tracks[0], index, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
    }
    const made = run('backup', file, db.url());
    expect(made.stderr).toBe('');
    expect(made.stdout).toContain('holds everything');
    expect(run('backup', file, db.url()).stderr).toContain('not written over');

    const there = await empty('restored');
    const restored = run('restore', file, there);
    expect(restored.stderr).toBe('');
    expect(restored.stdout).toContain('3 chunks of sound agree with their checksums');
    expect(await everything(there)).toEqual(await everything(db.url()));
    // It is as far as the schema goes, and nothing of it is made twice.
    expect(await migrate(there)).toBe(0);
    expect(run('restore', file, there).stderr).toContain('not empty, and nothing was changed');
  });

  it('that is damaged, or none, is refused and leaves the database empty; sound that was altered is found', async () => {
    const broken = join(folder, 'broken.backup');
    writeFileSync(broken, readFileSync(file).subarray(0, 200_000));
    const there = await empty('broken');
    expect(run('restore', broken, there).stderr).toContain('as empty as it was');
    expect(await everything(there)).toEqual({});
    expect(run('restore', join(folder, 'none'), there).stderr).toContain('There is no file');
    await db.pool().query('update chunk set samples = overlay(samples placing $1 from 1000) where index = 1', [Buffer.from([1, 2, 3])]);
    const altered = join(folder, 'altered.backup');
    run('backup', altered, db.url());
    expect(run('restore', altered, await empty('altered')).stderr).toContain('1 of 3 chunks of sound are not what they were');
  });
});
