import { spawn, type ChildProcess } from 'node:child_process';
import { cpus } from 'node:os';

const TICK_MS = 5;
/** What waits between a device and the desk outlasts anything shorter. */
const STALL_MS = 30;
/** Noted, so that a break can be held against it. */
const HITCH_MS = 8;

/** The clock all processes of a machine share, ms. The time of day may be set while a test runs, and by seconds. */
const sharedClock = (): number => Number(process.hrtime.bigint()) / 1e6;

/** Sleeps for a moment, over and over, and tells when it woke up late. */
const SLEEPER = `
const clock = ${sharedClock};
let last = clock();
setInterval(() => {
  const now = clock();
  const late = now - last - ${TICK_MS};
  if (late > ${HITCH_MS}) process.stdout.write(now + ' ' + late + '\\n');
  last = now;
}, ${TICK_MS});`;

/**
 * Watches the machine, each processor by itself: a sleeper that wakes up late was not let run, and whatever else was to run
 * there was not either.
 */
export class Stalls {
  readonly #found: { at: number; ms: number }[] = [];
  /** Our own clock by that of all. */
  readonly #offset = performance.now() - sharedClock();
  readonly #sleepers: ChildProcess[];

  constructor() {
    this.#sleepers = cpus().map((_, cpu) => {
      const sleeper = spawn('taskset', ['-c', String(cpu), process.execPath, '-e', SLEEPER], { stdio: ['ignore', 'pipe', 'ignore'] });
      sleeper.stdout.setEncoding('utf8').on('data', (text: string) => {
        for (const line of text.trim().split('\n')) {
          const [at, ms] = line.split(' ').map(Number);
          this.#found.push({ at: at + this.#offset, ms });
        }
      });
      return sleeper;
    });
  }

  /** How many, and the longest, ms. */
  summary(): { count: number; longestMs: number } {
    const stalls = this.#found.filter(({ ms }) => ms > STALL_MS);
    return { count: stalls.length, longestMs: Math.round(Math.max(0, ...stalls.map(({ ms }) => ms))) };
  }

  /**
   * Whether the machine stood still about then; `performance.now()`. What waits in buffers is heard up to a second later.
   * @param unsureMs how far the time may be off
   */
  explains(at: number, unsureMs = 0): boolean {
    return this.longestAbout(at, unsureMs) > STALL_MS;
  }

  /** The longest a processor stood still about then, ms; 0 where it was less than can be told from a timer's own lateness. */
  longestAbout(at: number, unsureMs = 0): number {
    const about = this.#found.filter((one) => at > one.at - one.ms - 300 - unsureMs && at < one.at + 1000 + unsureMs);
    return Math.max(0, ...about.map(({ ms }) => ms));
  }

  stop(): void {
    for (const sleeper of this.#sleepers) sleeper.kill();
  }
}
