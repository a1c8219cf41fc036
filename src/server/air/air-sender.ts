import type pg from 'pg';
import { isBrokenConnection } from '../database';
import { log } from '../log';
import { ownConnection } from '../own-connection';
import { AIR_CHANNEL, runningBroadcasts } from './broadcasts';
import { BroadcastRun } from './run-broadcast';

const LOOK_EVERY_MS = 200;
const ASK_FOR_LOCK_EVERY_MS = 1000;
/** A database that starts again is back by then; where only this sender has lost it, another one may have its place. */
const KEPT_WITHOUT_DATABASE_MS = 20_000;
/** Any number that nothing else locks. */
const LOCK = 0x1a17e12;

/**
 * Gives what desks have on the air to the servers of their stations. Of several senders one does it at a time, whoever holds
 * the lock. While the database is away its streams stay with their servers, and carry silence.
 */
export class AirSender {
  readonly #url: string | undefined;
  readonly #pool: pg.Pool;
  readonly #keptMs: number;
  readonly #runs = new Map<string, BroadcastRun>();
  #own: pg.Client | null = null;
  /** Whether the streams are this sender's to send. */
  #mine = false;
  #lostMs: number | null = null;
  #looking = false;
  #again = false;
  #over = false;

  constructor(url: string | undefined, pool: pg.Pool, keptMs = KEPT_WITHOUT_DATABASE_MS) {
    this.#url = url;
    this.#pool = pool;
    this.#keptMs = keptMs;
  }

  /** Sends until it is stopped. @throws {Error} where waiting for the database would not help */
  async run(): Promise<void> {
    const beat = setInterval(() => this.#beat(), LOOK_EVERY_MS);
    try {
      while (!this.#over) await this.#holdLock();
    } finally {
      clearInterval(beat);
      this.#letGo();
    }
  }

  stop(): void {
    this.#over = true;
    this.#letGo();
    void this.#own?.end().catch(() => undefined);
  }

  /** For as long as a connection lasts. */
  async #holdLock(): Promise<void> {
    let isBroken = false;
    let tell = (): void => undefined;
    const broken = new Promise<void>((resolve) => {
      tell = () => {
        isBroken = true;
        resolve();
      };
    });
    const own = await ownConnection(this.#url, () => tell());
    own.on('end', () => tell());
    this.#own = own;
    if (this.#over) return void (await own.end());
    try {
      while (!(await isLocked(own))) {
        // Another sender took the place while this one was away.
        this.#letGo();
        await Promise.race([broken, new Promise((resolve) => setTimeout(resolve, ASK_FOR_LOCK_EVERY_MS))]);
        if (isBroken) return;
      }
      own.on('notification', () => void this.#look());
      await own.query(`listen ${AIR_CHANNEL}`);
      if (this.#lostMs !== null) log.info('the database is there again, and what is on the air goes on');
      this.#mine = true;
      this.#lostMs = null;
      await broken;
    } catch (error) {
      if (!isBroken && !isBrokenConnection(error)) throw error;
    }
    if (this.#over || !this.#mine || this.#lostMs !== null) return;
    log.warn('lost the database; what is on the air is kept there meanwhile');
    this.#lostMs = performance.now();
  }

  #beat(): void {
    if (!this.#mine) return;
    if (this.#lostMs !== null && performance.now() - this.#lostMs > this.#keptMs) return this.#letGo();
    // Whatever the database does, a server that is sent nothing takes its stream for lost.
    for (const run of this.#runs.values()) run.send();
    void this.#look();
  }

  #letGo(): void {
    for (const run of this.#runs.values()) run.stop();
    this.#runs.clear();
    this.#mine = false;
    this.#lostMs = null;
  }

  async #look(): Promise<void> {
    if (this.#looking) return void (this.#again = true);
    this.#looking = true;
    try {
      const works = await runningBroadcasts(this.#pool);
      if (!this.#mine) return;
      for (const work of works) {
        if (this.#runs.has(work.id)) continue;
        const run = new BroadcastRun(this.#pool, work);
        await run.begin();
        // Meanwhile the streams may have become another sender's.
        if (!this.#mine) return;
        this.#runs.set(work.id, run);
      }
      for (const [id, run] of this.#runs) {
        const work = works.find((one) => one.id === id);
        if (!work) run.stop();
        if (!work || run.ended) this.#runs.delete(id);
      }
      // Each by itself: what goes wrong with one is no matter of the others.
      await Promise.all(works.map((work) => this.#runs.get(work.id)?.step(work.ending).catch((error: Error) => tellUnlessAway(error, 'a broadcast', work.id))));
    } catch (error) {
      tellUnlessAway(error as Error, 'what is on the air was not looked at');
    } finally {
      this.#looking = false;
    }
    if (this.#again) {
      this.#again = false;
      void this.#look();
    }
  }
}

async function isLocked(own: pg.Client): Promise<boolean> {
  const { rows } = await own.query<{ mine: boolean }>('select pg_try_advisory_lock($1) as mine', [LOCK]);
  return rows[0].mine;
}

/** That the database is away was said once. */
function tellUnlessAway(err: Error, words: string, broadcast?: string): void {
  if (!isBrokenConnection(err)) log.error({ err, broadcast }, words);
}
