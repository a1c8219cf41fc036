import type { HearingPlan } from '@/core/hearing/plan';
import { sendJson, ServerError } from '../api';

export type PlanSaving = 'saved' | 'saving' | 'conflict' | 'failed';

/** Keeps the plan on the server a moment after each change, one request at a time. */
export interface PlanKeeper {
  changed(plan: HearingPlan): void;
  /** Sends at once what was not sent yet, even while the page is closing. */
  flush(): void;
}

const QUIET_MS = 250;
const RETRY_MS = 2000;

export function createPlanKeeper(
  episode: string,
  firstVersion: number,
  onState: (state: PlanSaving) => void,
): PlanKeeper {
  let version = firstVersion;
  let waiting: HearingPlan | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sending = false;

  const send = async (keepalive: boolean): Promise<void> => {
    if (waiting === null || sending) return;
    const plan = waiting;
    waiting = null;
    sending = true;
    let again = QUIET_MS;
    try {
      const answer = await sendJson<{ version: number }>('PUT', `/api/episodes/${episode}/plan`, { version, plan }, keepalive);
      version = answer.version;
      if (waiting === null) onState('saved');
    } catch (error) {
      const conflict = error instanceof ServerError && error.code === 'plan-changed';
      onState(conflict ? 'conflict' : 'failed');
      if (conflict) return;
      waiting ??= plan;
      again = RETRY_MS;
    } finally {
      sending = false;
    }
    if (waiting !== null) timer = setTimeout(() => void send(false), again);
  };

  return {
    changed(plan) {
      waiting = plan;
      onState('saving');
      clearTimeout(timer);
      timer = setTimeout(() => void send(false), QUIET_MS);
    },
    flush() {
      clearTimeout(timer);
      void send(true);
    },
  };
}
