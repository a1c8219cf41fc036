import { setCrosspoint, setListener, setSource } from '../edit';
import type { ListenerId, SeatId, SourceId } from '../ids';
import { operandFor } from '../operands';
import { listenersOf, sourcesOf, type HearingPlan, type ListenerSettings, type SourceSettings } from '../plan';

/** A change to a plan as data, so that a fix can be shown, sent, applied and undone. */
export type PlanChange =
  | { type: 'close'; source: SourceId; listener: ListenerId }
  | { type: 'close-source-everywhere'; source: SourceId }
  | { type: 'close-listener'; listener: ListenerId }
  | { type: 'back-to-rule'; source: SourceId | null; listener: ListenerId | null }
  | { type: 'source'; source: SourceId; settings: Partial<SourceSettings> }
  | { type: 'listener'; listener: ListenerId; settings: Partial<ListenerSettings> }
  | { type: 'remove-coupling'; id: string }
  | { type: 'admit'; seat: SeatId }
  | { type: 'wait'; seat: SeatId }
  | { type: 'remove-feed'; feed: string };

/** The plan with a change made. Changes that name what the plan does not have leave it as it is. */
export function applyChange(plan: HearingPlan, change: PlanChange): HearingPlan {
  switch (change.type) {
    case 'close':
      return setCrosspoint(plan, change.source, change.listener, { open: false, gainDb: 0 });
    case 'close-source-everywhere':
      return setSource(plan, change.source, { on: false });
    case 'close-listener':
      return closeListener(plan, change.listener);
    case 'back-to-rule':
      return backToRule(plan, change.source, change.listener);
    case 'source':
      return setSource(plan, change.source, change.settings);
    case 'listener':
      return setListener(plan, change.listener, change.settings);
    case 'remove-coupling':
      return { ...plan, couplings: plan.couplings.filter(({ id }) => id !== change.id) };
    case 'admit':
      return { ...plan, waiting: plan.waiting.filter((seat) => seat !== change.seat) };
    case 'wait':
      return { ...plan, waiting: [...plan.waiting.filter((seat) => seat !== change.seat), change.seat] };
    case 'remove-feed':
      return removeFeed(plan, change.feed);
  }
}

function closeListener(plan: HearingPlan, listenerId: ListenerId): HearingPlan {
  const listener = listenersOf(plan).find(({ id }) => id === listenerId);
  if (!listener) return plan;
  let changed = plan;
  for (const source of sourcesOf(plan)) {
    if (operandFor(source, listener)) changed = setCrosspoint(changed, source.id, listenerId, { open: false, gainDb: 0 });
  }
  return changed;
}

/** Takes exceptions away: of one crosspoint, a row (no listener), a column (no source), or all. */
export function backToRule(plan: HearingPlan, source: SourceId | null, listener: ListenerId | null): HearingPlan {
  const exceptions: HearingPlan['exceptions'] = {};
  for (const [listenerId, row] of Object.entries(plan.exceptions) as [ListenerId, Record<SourceId, never>][]) {
    const kept = Object.entries(row).filter(
      ([sourceId]) => (listener !== null && listener !== listenerId) || (source !== null && source !== sourceId),
    );
    if (kept.length > 0) exceptions[listenerId] = Object.fromEntries(kept);
  }
  return { ...plan, exceptions };
}

/** The plan without a feed and everything that was said of it. */
function removeFeed(plan: HearingPlan, feed: string): HearingPlan {
  const id: ListenerId = `feed:${feed}`;
  const { [id]: _row, ...exceptions } = plan.exceptions;
  const { [id]: _settings, ...listeners } = plan.listeners;
  return {
    ...plan,
    exceptions,
    listeners,
    feeds: plan.feeds.filter((one) => one.id !== feed),
    couplings: plan.couplings.filter(({ from }) => from !== id),
  };
}
