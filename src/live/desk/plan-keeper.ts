import { differences, mergePlans } from '@/core/hearing/merge';
import type { HearingPlan } from '@/core/hearing/plan';
import { getJson, sendJson, ServerError } from '../api';
import { forgetUnsent, keepUnsent, readUnsent } from './unsent-plan';

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
  /** What an earlier window of this browser changed and could not send, as a change of the plan there is; null where there is nothing of it. */
  bringBack(): Promise<((plan: HearingPlan) => HearingPlan) | null>;
}

const QUIET_MS = 250;
const RETRY_MS = 2000;

export function createPlanKeeper(episode: string, first: StoredPlan, events: PlanKeeperEvents): PlanKeeper {
  const address = `/api/episodes/${episode}/plan`;
  // What the server is known to have: the common ground of a merge.
  let stored = first;
  let waiting: HearingPlan | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let underWay: HearingPlan | null = null;

  const merge = async (mine: HearingPlan): Promise<void> => {
    const theirs = await getJson<StoredPlan>(address);
    const merged = mergePlans(stored.plan, waiting ?? mine, theirs.plan);
    stored = theirs;
    waiting = merged;
    events.onMerged(merged, theirs.plan);
  };

  const send = async (keepalive: boolean): Promise<void> => {
    if (waiting === null || underWay !== null) return;
    const plan = waiting;
    waiting = null;
    underWay = plan;
    keepUnsent(episode, { version: stored.version, base: stored.plan, sent: plan, plan });
    let again = QUIET_MS;
    try {
      const { version } = await sendJson<{ version: number }>('PUT', address, { version: stored.version, plan }, { keepalive });
      stored = { version, plan };
      if (waiting === null) {
        forgetUnsent(episode);
        events.onState('saved');
      }
    } catch (error) {
      const conflict = error instanceof ServerError && error.code === 'plan-changed';
      const solved = conflict && (await merge(plan).then(() => true, () => false));
      if (!solved) {
        events.onState('failed');
        waiting ??= plan;
        again = RETRY_MS;
      }
    } finally {
      underWay = null;
    }
    if (waiting !== null) timer = setTimeout(() => void send(false), again);
  };

  return {
    version: () => stored.version,
    adopt(fresh) {
      clearTimeout(timer);
      stored = fresh;
      waiting = null;
      forgetUnsent(episode);
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
      // What is on its way is not waited for by a page that closes.
      if (waiting !== null) keepUnsent(episode, { version: stored.version, base: stored.plan, sent: underWay, plan: waiting });
      void send(true);
    },
    async bringBack() {
      const now = stored;
      const unsent = await readUnsent(episode).catch(() => null);
      if (unsent) {
        const { version, base, sent, plan } = unsent;
        // Sent once more it changes nothing, and tells whether it had arrived.
        const arrived = sent !== null && version < now.version && (await sendJson('PUT', address, { version, plan: sent }).then(() => true, () => false));
        // Where another window changed the same, what it did is newer.
        const change = (current: HearingPlan): HearingPlan => mergePlans(arrived ? sent : base, current, plan);
        if (differences(now.plan, change(now.plan)).length > 0) return change;
      }
      if (waiting === null && underWay === null) forgetUnsent(episode);
      return null;
    },
  };
}
