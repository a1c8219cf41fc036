// The sender: gives what desks have on the air to the servers of their stations. One of them does it at a time, whoever
// holds the lock; others wait to take its place. Started with the product by the start command.
import { randomUUID } from 'node:crypto';
import { connect } from '../database';
import { sayAlive } from '../health/beats';
import { log } from '../log';
import { ownConnection } from '../own-connection';
import { AIR_CHANNEL, runningBroadcasts } from './broadcasts';
import { BroadcastRun } from './run-broadcast';

const LOOK_EVERY_MS = 200;
const ASK_FOR_LOCK_EVERY_MS = 1000;
/** Any number that nothing else locks. */
const LOCK = 0x1a17e12;

const pool = connect(process.env.DATABASE_URL);
const runs = new Map<string, BroadcastRun>();

/** When it breaks the lock is free, and this process begins anew. */
const own = await ownConnection(process.env.DATABASE_URL, (error) => {
  log.error({ err: error }, 'lost the database and begins anew');
  process.exit(1);
});

let looking = false;
let again = false;

async function look(): Promise<void> {
  if (looking) return void (again = true);
  looking = true;
  try {
    const works = await runningBroadcasts(pool);
    for (const work of works) {
      if (runs.has(work.id)) continue;
      const run = new BroadcastRun(pool, work);
      runs.set(work.id, run);
      await run.begin();
    }
    for (const [id, run] of runs) {
      const work = works.find((one) => one.id === id);
      if (!work) run.stop();
      if (!work || run.ended) runs.delete(id);
    }
    // Each by itself: what goes wrong with one is no matter of the others.
    await Promise.all(works.map((work) => runs.get(work.id)?.step(work.ending).catch((err: Error) => log.error({ err, broadcast: work.id }, 'a broadcast'))));
  } catch (error) {
    log.error({ err: error }, 'what is on the air was not looked at');
  } finally {
    looking = false;
  }
  if (again) {
    again = false;
    void look();
  }
}

sayAlive(pool, `${process.pid}-${randomUUID().slice(0, 8)}`, 'sender');
const waiting = setInterval(() => void take(), ASK_FOR_LOCK_EVERY_MS);
let timer: ReturnType<typeof setInterval> | undefined;

async function take(): Promise<void> {
  const { rows } = await own.query<{ mine: boolean }>('select pg_try_advisory_lock($1) as mine', [LOCK]);
  if (!rows[0].mine || timer) return;
  clearInterval(waiting);
  own.on('notification', () => void look());
  await own.query(`listen ${AIR_CHANNEL}`);
  timer = setInterval(() => void look(), LOOK_EVERY_MS);
}
await take();

function stop(): void {
  clearInterval(timer);
  clearInterval(waiting);
  for (const run of runs.values()) run.stop();
  // What was written goes out before the process does.
  setTimeout(() => process.exit(0), 200);
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop);
process.on('disconnect', stop);
