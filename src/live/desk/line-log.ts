import type { LineReport } from '@/core/lines/line-report';
import { sendJson } from '../api';

const SEND_EVERY_MS = 10_000;
/** What the server does not take waits; the oldest goes first. */
const MOST_WAITING = 1000;

interface LoggedReport {
  seat: string;
  /** Where in the take, samples. */
  atSample: number;
  report: LineReport;
}

/** What was measured of the lines while a take runs, kept with it: a few reports at a time. */
export class LineLog {
  #take: string | null = null;
  #waiting: LoggedReport[] = [];
  #timer: ReturnType<typeof setInterval> | undefined;

  begin(take: string): void {
    this.#take = take;
    // What was left of another take is not this one's.
    this.#waiting = [];
    this.#timer = setInterval(() => void this.#send(), SEND_EVERY_MS);
  }

  add(report: LoggedReport): void {
    this.#waiting.push(report);
  }

  end(): void {
    clearInterval(this.#timer);
    void this.#send();
    this.#take = null;
  }

  /** Those the server did not take are sent with the next. */
  async #send(): Promise<void> {
    const reports = this.#waiting.splice(0);
    if (this.#take === null || reports.length === 0) return;
    await sendJson('POST', `/api/takes/${this.#take}/lines`, { reports }).catch(() => {
      this.#waiting = [...reports, ...this.#waiting].slice(-MOST_WAITING);
    });
  }
}
