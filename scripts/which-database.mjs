import { mkdirSync } from 'node:fs';
import { takeLock } from './lock.mjs';
import { startPostgres } from './postgres.mjs';

/**
 * The database of this installation: DATABASE_URL, or the one below data/, started where the product does not run.
 * @returns {Promise<{ url: string, running: boolean, done: () => void }>} `running`: the product uses it now
 */
export async function openDatabase() {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, running: false, done: () => undefined };
  mkdirSync('data', { recursive: true });
  const lock = await takeLock('data', () => `process ${process.pid} works on its database`);
  const { url, stop } = await startPostgres('postgres');
  const mine = lock.heldBy === null;
  const done = () => {
    if (!mine) return;
    stop();
    lock.release();
  };
  return { url, running: !mine, done };
}
