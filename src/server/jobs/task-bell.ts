import { keepListening } from '../keep-listening';

export const TASK_CHANNEL = 'task_wanted';

const AGAIN_MS = 1000;

/** Rings when a task is asked for, in whichever process; and when something may have been missed. */
export interface TaskBell {
  /** Until it rings, at once where it has rung since the last wait; or until so many ms have gone by. */
  wait(atMostMs: number): Promise<void>;
  stop(): Promise<void>;
}

export function hangTaskBell(url: string | undefined, againMs = AGAIN_MS): TaskBell {
  let rung = false;
  let wake = (): void => undefined;
  const ring = (): void => {
    rung = true;
    wake();
  };
  const end = keepListening(url, TASK_CHANNEL, { notified: ring, begun: ring }, againMs);
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
      wake();
      await end();
    },
  };
}
