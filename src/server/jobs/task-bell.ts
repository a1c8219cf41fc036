import pg from 'pg';
import { log } from '../log';

export const TASK_CHANNEL = 'task_wanted';

const AGAIN_MS = 1000;

/** Rings when a task is asked for, in whichever process. */
export interface TaskBell {
  /** Until it rings, at once where it has rung since the last wait; or until so many ms have gone by. */
  wait(atMostMs: number): Promise<void>;
  stop(): Promise<void>;
}

/** Hears through a connection of its own, which is opened again when it breaks. @param again ms until then */
export function hangTaskBell(url: string, again = AGAIN_MS): TaskBell {
  let rung = false;
  let wake = (): void => undefined;
  let stopped = false;
  let client: pg.Client | null = null;
  let retry: NodeJS.Timeout | undefined;
  const ring = (): void => {
    rung = true;
    wake();
  };
  const open = async (): Promise<void> => {
    const own = (client = new pg.Client({ connectionString: url, keepAlive: true }));
    const lost = (err?: Error): void => {
      if (client !== own || stopped) return;
      client = null;
      if (err) log.warn({ err }, 'workers are not woken for the moment');
      retry = setTimeout(() => void open(), again);
    };
    own.on('error', lost);
    own.on('end', () => lost());
    own.on('notification', ring);
    try {
      await own.connect();
      await own.query(`listen ${TASK_CHANNEL}`);
      // Something may have been asked for meanwhile.
      ring();
    } catch (error) {
      lost(error as Error);
    }
  };
  void open();
  return {
    async wait(atMostMs) {
      if (!rung) {
        await new Promise<void>((resolve) => {
          const timer = setTimeout(resolve, atMostMs);
          wake = () => {
            clearTimeout(timer);
            resolve();
          };
        });
      }
      rung = false;
    },
    async stop() {
      stopped = true;
      clearTimeout(retry);
      wake();
      await client?.end();
    },
  };
}
