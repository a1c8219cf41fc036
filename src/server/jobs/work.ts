import type pg from 'pg';

/** What a task's code gets: whose it is, and a way to say how far it is. */
export interface Work {
  pool: pg.Pool;
  task: string;
  take: string;
  /** Share done, 0 to 1. Often called; only now and then told. @throws {StoppedError} when the task was cancelled */
  progress(share: number): Promise<void>;
  /** Shows a first, rougher result while the work goes on. @throws {StoppedError} when the task was cancelled */
  show(first: unknown): Promise<void>;
}

/** The task was cancelled, or another worker has it. */
export class StoppedError extends Error {}
