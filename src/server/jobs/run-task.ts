import type pg from 'pg';
import type { Task } from '@/core/tasks/task';
import { isBrokenConnection } from '../database';
import { exportTake } from '../exports/export-take';
import { log } from '../log';
import { checkTake } from './check-take';
import { createGiveWay } from './give-way';
import { placeHome } from './place-home';
import { quietenTrack } from './quieten-track';
import { RefusedTask } from './refused';
import { repairTrack } from './repair-track';
import { StoppedError, type Work } from './work';
import { claimTask, endTask, reportProgress, showFirst } from './tasks';

const SAY_EVERY_MS = 500;

/** Does one task, unless it is done or in other hands. */
export async function runTask(pool: pg.Pool, id: string, worker: string): Promise<void> {
  const claimed = await claimTask(pool, id, worker);
  if (!claimed) return;
  const giveWay = createGiveWay(pool, { ageMs: claimed.ageMs });
  let said = 0;
  let share = 0;
  const say = async (): Promise<void> => {
    said = performance.now();
    if (!(await reportProgress(pool, id, worker, share, giveWay.heldUp()))) throw new StoppedError('This was cancelled.');
  };
  // A long stretch without progress must not look like death.
  const beat = setInterval(() => void say().catch(() => undefined), 4 * SAY_EVERY_MS);
  const progress = async (done: number): Promise<void> => {
    share = done;
    await giveWay.rest();
    if (performance.now() - said > SAY_EVERY_MS) await say();
  };
  const show = async (first: unknown): Promise<void> => {
    if (!(await showFirst(pool, id, worker, first))) throw new StoppedError('This was cancelled.');
  };
  try {
    const result = await workOn(claimed.task, { pool, task: id, take: claimed.take, progress, show });
    await endTask(pool, id, worker, { result });
  } catch (error) {
    if (error instanceof StoppedError) return;
    // The work is not to blame and will be done: this worker's silence gives it to whoever reaches the database next.
    if (isBrokenConnection(error)) return log.error({ err: error, task: id }, 'lost the database');
    if (!(error instanceof RefusedTask)) log.error({ err: error, task: id }, 'a task failed');
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
    case 'home':
      return placeHome(work, task.params.track);
    case 'repair':
      return repairTrack(work, task.params.track);
    case 'quieten':
      return quietenTrack(work, task.params.track);
  }
}
