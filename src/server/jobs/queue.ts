import PgBoss from 'pg-boss';
import type pg from 'pg';
import type { Task } from '@/core/tasks/task';
import { log } from '../log';
import { insertTask } from './tasks';

export const QUEUE = 'take-work';
/** Removes what is too old. */
export const SWEEP = 'sweep';

// The development server evaluates modules again on every change; the queue outlives that.
const kept = globalThis as { briskLanternQueue?: Promise<PgBoss> };

/** The queue of this process; the first to open it makes its tables. */
export function queue(url = process.env.DATABASE_URL): Promise<PgBoss> {
  kept.briskLanternQueue ??= openQueue(url).catch((error: Error) => {
    kept.briskLanternQueue = undefined;
    throw error;
  });
  return kept.briskLanternQueue;
}

async function openQueue(url: string | undefined): Promise<PgBoss> {
  if (!url) throw new Error('DATABASE_URL is not set. Start the product with "npm start", which sets it.');
  const boss = new PgBoss({ connectionString: url, max: 3, schedule: false });
  // A connection that breaks is opened again; tasks that were lost meanwhile are found by the workers.
  boss.on('error', (error) => log.error({ err: error }, 'the queue'));
  await boss.start();
  await boss.createQueue(QUEUE);
  await boss.createQueue(SWEEP);
  return boss;
}

/**
 * Asks for work on a take. The task is written down first: when the queue cannot be reached, or loses it, a
 * worker finds it by itself.
 */
export async function askFor(pool: pg.Pool, take: string, task: Task): Promise<string> {
  const id = await insertTask(pool, take, task);
  await queue()
    .then((boss) => boss.send(QUEUE, { task: id }))
    .catch((err: Error) => log.error({ err }, 'a task was not queued; a worker finds it later'));
  return id;
}
