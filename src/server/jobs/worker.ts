// A worker: does the tasks that wait, the oldest first, one at a time; beside them it measures what is being recorded. Several
// can run side by side, on any machine that reaches the database. Started with the product by the start command.
import { randomUUID } from 'node:crypto';
import { database } from '../database';
import { sayAlive } from '../health/beats';
import { log } from '../log';
import { sweep } from '../sweep/sweep';
import { createTakeFollower } from './follow-takes';
import { runTask } from './run-task';
import { hangTaskBell } from './task-bell';
import { openTasks } from './tasks';

/** Looks without being woken: a worker that fell silent rings no bell. */
const LOOK_EVERY_MS = 10_000;
/** How often it looks for what has been recorded since. */
const FOLLOW_EVERY_MS = 2000;
/** How long it leaves a database alone that it could not reach. */
const REST_MS = 1000;
/** How often old things are removed. What one worker removed the next does not find. */
const SWEEP_EVERY_MS = 3_600_000;
const worker = `${process.pid}-${randomUUID().slice(0, 8)}`;
const pool = database();
const bell = hangTaskBell(process.env.DATABASE_URL);
sayAlive(pool, worker, 'worker');

let ended = false;

async function workOn(): Promise<void> {
  while (!ended) {
    try {
      const [oldest] = await openTasks(pool);
      if (oldest) await runTask(pool, oldest, worker);
      else await bell.wait(LOOK_EVERY_MS);
    } catch (err) {
      log.error({ err }, 'the tasks could not be looked at');
      await new Promise((resolve) => setTimeout(resolve, REST_MS));
    }
  }
}

const follower = createTakeFollower(pool, worker);

/** Beside the tasks: what is being recorded is measured as it comes. */
async function followTakes(): Promise<void> {
  while (!ended) {
    await follower.look().catch((err: Error) => log.error({ err }, 'what is being recorded could not be measured; it will be when it is checked'));
    await new Promise((resolve) => setTimeout(resolve, FOLLOW_EVERY_MS));
  }
}
void followTakes();

const sweepNow = () => sweep(pool).catch((err: Error) => log.error({ err }, 'old things were not removed'));
void sweepNow();
const sweeping = setInterval(() => void sweepNow(), SWEEP_EVERY_MS);

function stop() {
  ended = true;
  clearInterval(sweeping);
  // What is being worked on is left; its silence gives it to another.
  void bell.stop().finally(() => process.exit(0));
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop);
// Whoever started it was killed.
process.on('disconnect', stop);
log.info('ready');
await workOn();
