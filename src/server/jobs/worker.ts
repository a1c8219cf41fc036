// A worker: takes tasks from the queue one at a time. Several can run side by side, on any machine that
// reaches the database. Started with the product by the start command.
import { randomUUID } from 'node:crypto';
import { database, isBrokenConnection } from '../database';
import { sayAlive } from '../health/beats';
import { log } from '../log';
import { sweep } from '../sweep/sweep';
import { QUEUE, queue, SWEEP } from './queue';
import { runTask } from './run-task';
import { forgottenTasks } from './tasks';

// The queue's package throws out of reach when it loses the database while it notes that a task is done. The task is
// safe, or will be done again; a worker that begins anew connects anew.
process.on('unhandledRejection', (error) => {
  if (!isBrokenConnection(error)) throw error;
  log.error({ err: error }, 'lost the database and begins anew');
  process.exit(1);
});

const LOOK_EVERY_MS = 10_000;
/** How often old things are removed; one worker does it for all. */
const SWEEP_EVERY_MS = 3_600_000;
const worker = `${process.pid}-${randomUUID().slice(0, 8)}`;
const pool = database();
const boss = await queue();
sayAlive(pool, worker, 'worker');

await boss.work<{ task: string }>(QUEUE, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async ([job]) => runTask(pool, job.data.task, worker));

const look = setInterval(() => {
  forgottenTasks(pool)
    .then((tasks) => Promise.all(tasks.map((task) => boss.send(QUEUE, { task }, { singletonKey: task, singletonSeconds: 10 }))))
    .catch((err: Error) => log.error({ err }, 'the queue was not looked at'));
}, LOOK_EVERY_MS);

await boss.work(SWEEP, { pollingIntervalSeconds: 10, batchSize: 1 }, () => sweep(pool));
const askToSweep = () => boss.send(SWEEP, {}, { singletonKey: SWEEP, singletonSeconds: SWEEP_EVERY_MS / 1000 }).catch((err: Error) => log.error({ err }, 'the sweep was not asked for'));
await askToSweep();
const sweeping = setInterval(() => void askToSweep(), SWEEP_EVERY_MS);

function stop() {
  clearInterval(look);
  clearInterval(sweeping);
  // What is being worked on is left; its silence gives it to another.
  void boss.stop({ graceful: false, close: true }).finally(() => process.exit(0));
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop);
// Whoever started it was killed.
process.on('disconnect', stop);
log.info('ready');
