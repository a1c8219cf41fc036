import { mergePlans } from '@/core/hearing/merge';
import type { HearingPlan } from '@/core/hearing/plan';
import { getJson, sendJson, ServerError } from '../api';

export type PlanSaving = 'saved' | 'saving' | 'failed';

export interface PlanKeeperEvents {
  onState(state: PlanSaving): void;
  /** Another window stored a plan in between: `merged` is both together, `theirs` what it had. */
  onMerged(merged: HearingPlan, theirs: HearingPlan): void;
}

export interface StoredPlan {
  version: number;
  plan: HearingPlan;
}

/**
 * Keeps the plan on the server a moment after each change, one request at a time. When another
 * window was faster, both sets of changes are put together and kept.
 */
export interface PlanKeeper {
  /** The version the server has. */
  version(): number;
  /** Goes on from what the server has, without what this window had. */
  adopt(stored: StoredPlan): void;
  changed(plan: HearingPlan): void;
  /** Sends at once what was not sent yet, even while the page is closing. */
  flush(): void;
}

const QUIET_MS = 250;
const RETRY_MS = 2000;

export function createPlanKeeper(episode: string, first: StoredPlan, events: PlanKeeperEvents): PlanKeeper {
  const address = `/api/episodes/${episode}/plan`;
  // What the server is known to have: the common ground of a merge.
  let stored = first;
  let waiting: HearingPlan | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sending = false;

  const merge = async (mine: HearingPlan): Promise<void> => {
    const theirs = await getJson<StoredPlan>(address);
    const merged = mergePlans(stored.plan, waiting ?? mine, theirs.plan);
    stored = theirs;
    waiting = merged;
    events.onMerged(merged, theirs.plan);
  };

  const send = async (keepalive: boolean): Promise<void> => {
    if (waiting === null || sending) return;
    const plan = waiting;
    waiting = null;
    sending = true;
    let again = QUIET_MS;
    try {
      const { version } = await sendJson<{ version: number }>('PUT', address, { version: stored.version, plan }, { keepalive });
      stored = { version, plan };
      if (waiting === null) events.onState('saved');
    } catch (error) {
      const conflict = error instanceof ServerError && error.code === 'plan-changed';
      const solved = conflict && (await merge(plan).then(() => true, () => false));
      if (!solved) {
        events.onState('failed');
        waiting ??= plan;
        again = RETRY_MS;
      }
    } finally {
      sending = false;
    }
    if (waiting !== null) timer = setTimeout(() => void send(false), again);
  };

  return {
    version: () => stored.version,
    adopt(fresh) {
      clearTimeout(timer);
      stored = fresh;
      waiting = null;
      events.onState('saved');
    },
    changed(plan) {
      waiting = plan;
      events.onState('saving');
      clearTimeout(timer);
      timer = setTimeout(() => void send(false), QUIET_MS);
    },
    flush() {
      clearTimeout(timer);
      void send(true);
    },
  };
}
