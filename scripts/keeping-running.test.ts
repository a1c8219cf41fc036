import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { runningAddress, takeLock } from './lock.mjs';
import { supervise } from './supervise.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lock-'));
afterAll(() => rmSync(folder, { recursive: true }));

const node = (script: string) => spawn(process.execPath, ['--input-type=module', '-e', script], { stdio: ['ignore', 'pipe', 'inherit'] });

it('a data folder has one start at a time, which says what it is, and is free again however it ended', async () => {
  const holder = node(`import { takeLock } from ${JSON.stringify(resolve('scripts/lock.mjs'))}; await takeLock(${JSON.stringify(folder)}, () => 'at http://127.0.0.1:4870 (process 7)'); console.log('held'); setInterval(() => undefined, 1000);`);
  await once(holder.stdout!, 'data');
  expect(await takeLock(folder, () => 'the second one')).toEqual({ heldBy: 'at http://127.0.0.1:4870 (process 7)' });
  expect(await runningAddress(folder)).toBe('http://127.0.0.1:4870');
  await expect(runningAddress(join(folder, 'nothing'))).rejects.toThrow(/does not run here/);
  expect((await takeLock(join(folder, 'other'), () => '')).heldBy).toBeNull();
  holder.kill('SIGKILL');
  await once(holder, 'exit');
  const mine = await takeLock(folder, () => 'the second one');
  expect(mine.heldBy).toBeNull();
  // Two at the same moment: one has it.
  if (mine.heldBy === null) mine.release();
  const both = await Promise.all([takeLock(folder, () => 'one'), takeLock(folder, () => 'one')]);
  expect(both.filter(({ heldBy }) => heldBy === null)).toHaveLength(1);
});

it('a process that ends by itself is started again, later each time, until it is told to stop', async () => {
  const said: string[] = [];
  const started: ChildProcess[] = [];
  const kept = supervise('The server', () => {
    started.push(node('process.on("SIGTERM", () => undefined); console.log(1); setInterval(() => undefined, 1000)'));
    return started.at(-1)!;
  }, { killAfterMs: 200, say: (words: string) => said.push(words) });
  for (const round of [0, 1]) {
    await expect.poll(() => started.length, { timeout: 10_000 }).toBe(round + 1);
    await once(started[round].stdout!, 'data');
    started[round].kill('SIGKILL');
  }
  await expect.poll(() => started.length, { timeout: 10_000 }).toBe(3);
  expect(said).toEqual(['The server ended by SIGKILL and is started again in 0.5 s.', 'The server ended by SIGKILL and is started again in 1 s.']);
  await once(started[2].stdout!, 'data');
  // It does not listen to being told, and is gone all the same.
  await kept.stop();
  expect(started[2].signalCode).toBe('SIGKILL');
  expect(() => execFileSync('kill', ['-0', String(started[2].pid)], { stdio: 'ignore' })).toThrow();
});
