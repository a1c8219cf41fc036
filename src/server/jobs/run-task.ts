import type pg from 'pg';
import type { Task } from '@/core/tasks/task';
import { exportTake } from '../exports/export-take';
import { checkTake } from './check-take';
import { RefusedTask } from './refused';
import { repairTrack } from './repair-track';
import { claimTask, endTask, reportProgress } from './tasks';

/** What a task's code gets: whose it is, and a way to say how far it is. */
export interface Work {
  pool: pg.Pool;
  task: string;
  take: string;
  /** Share done, 0 to 1. Often called; only now and then told. @throws {StoppedError} when the task was cancelled */
  progress(share: number): Promise<void>;
}

/** The task was cancelled, or another worker has it. */
export class StoppedError extends Error {}

const SAY_EVERY_MS = 500;

/** Does one task, unless it is done or in other hands. */
export async function runTask(pool: pg.Pool, id: string, worker: string): Promise<void> {
  const claimed = await claimTask(pool, id, worker);
  if (!claimed) return;
  let said = 0;
  let share = 0;
  const say = async (): Promise<void> => {
    said = performance.now();
    if (!(await reportProgress(pool, id, worker, share))) throw new StoppedError('This was cancelled.');
  };
  // A long stretch without progress must not look like death.
  const beat = setInterval(() => void say().catch(() => undefined), 4 * SAY_EVERY_MS);
  const progress = async (done: number): Promise<void> => {
    share = done;
    if (performance.now() - said > SAY_EVERY_MS) await say();
  };
  try {
    const result = await workOn(claimed.task, { pool, task: id, take: claimed.take, progress });
    await endTask(pool, id, worker, { result });
  } catch (error) {
    if (error instanceof StoppedError) return;
    if (!(error instanceof RefusedTask)) console.error(error);
    await endTask(pool, id, worker, { problem: (error as Error).message });
  } finally {
    clearInterval(beat);
  }
}

async function workOn(task: Task, work: Work): Promise<unknown> {
  switch (task.kind) {
    case 'check':
      return checkTake(work);
    case 'export':
      return exportTake(work, task.params);
    case 'repair':
      return repairTrack(work, task.params.track);
  }
}
