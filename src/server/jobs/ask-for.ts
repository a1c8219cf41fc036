import type pg from 'pg';
import type { Task } from '@/core/tasks/task';
import { log } from '../log';
import { TASK_CHANNEL } from './task-bell';
import { insertTask } from './tasks';

/** Asks for work on a take: writes it down, and wakes the workers. Who is not woken looks by itself now and then. */
export async function askFor(pool: pg.Pool, take: string, task: Task): Promise<string> {
  const id = await insertTask(pool, take, task);
  await pool.query(`select pg_notify('${TASK_CHANNEL}', '')`).catch((err: Error) => log.error({ err }, 'the workers were not woken; one finds the task later'));
  return id;
}
