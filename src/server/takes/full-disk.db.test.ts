import { execFileSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { chownSync, mkdirSync, rmdirSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { errorResponse } from '../http/errors';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { beginTake } from './begin-take';
import { loadTake } from './load-take';
import { receiveChunks } from './receive-chunks';
import { sealTake } from './seal-take';

const db = testDatabase();
const folder = join(tmpdir(), `small-disk-${randomBytes(4).toString('hex')}`);
const MIB = 8;

/** A small disk of its own that really runs full; only root may make one, and not everywhere. */
function smallDisk(owner: number): boolean {
  mkdirSync(folder);
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${MIB}m`, 'tmpfs', folder], { stdio: 'ignore' });
  } catch {
    rmdirSync(folder);
    return false;
  }
  chownSync(folder, owner, owner);
  return true;
}

let mounted = false;
beforeAll(async () => {
  const { rows } = await db.pool().query<{ place: string }>("select setting as place from pg_settings where name = 'data_directory'");
  mounted = process.getuid?.() === 0 && smallDisk(statSync(rows[0].place).uid);
  if (!mounted) return;
  await db.pool().query(`create tablespace small_disk location '${folder}'`);
  await db.pool().query('alter table chunk set tablespace small_disk');
});

afterAll(async () => {
  if (!mounted) return;
  await db.pool().query('truncate chunk');
  await db.pool().query('alter table chunk set tablespace pg_default');
  await db.pool().query('drop tablespace small_disk');
  execFileSync('umount', [folder]);
  rmdirSync(folder);
});

describe('a disk that runs full while a take is recorded', () => {
  it('answers in words, keeps all that was safe, and takes the rest as soon as there is room', async (context) => {
    if (!mounted) return context.skip('No small disk can be made here: that needs root and the right to mount.');
    const begun = await beginTake(db.pool(), await demoEpisode(db.pool()), [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    const [track] = begun.tracks;
    const samples = (index: number) => createHash('shake256', { outputLength: 3 * CHUNK_FRAMES }).update(String(index)).digest();
    const send = (index: number) => receiveChunks(db.pool(), begun.take, [{ track, index, sha256: createHash('sha256').update(samples(index)).digest('hex'), samples: samples(index) }]);
    let stored = 0;
    let refused: unknown = null;
    for (; refused === null && stored < 1000; stored += refused === null ? 1 : 0) await send(stored).catch((error: unknown) => (refused = error));
    expect(stored).toBeGreaterThan(5);
    const answer = errorResponse(refused);
    expect(answer.status).toBe(507);
    expect(await answer.json()).toMatchObject({ code: 'disk-full', message: expect.stringContaining('stays on your computer') });
    // Whatever else is asked is answered as before.
    expect(await loadTake(db.pool(), begun.take)).toMatchObject({ state: 'recording' });
    await expect(send(stored)).rejects.toMatchObject({ code: '53100' });
    execFileSync('mount', ['-o', `remount,size=${4 * MIB}m`, folder]);
    for (let index = 0; index < stored + 5; index++) expect(await send(index)).toEqual([index < stored ? 'already-stored' : 'stored']);
    const length = (stored + 5) * CHUNK_FRAMES;
    expect(await sealTake(db.pool(), { take: begun.take, lengthSamples: length, clockAtStart: null, clockAtCall: null, gaps: [] })).toBe(length);
  });
});
