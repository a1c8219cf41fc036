import type { PlanInForce } from '@/core/takes/plan-log';
import type { Problem } from './answer';
import type { TakeMeta } from './kept-files';
import { sendUntilTaken } from './send-until-taken';

/** Plans in one request: well below what the server takes at once. */
const AT_ONCE = 20;

/** Brings a take's log to the server while it is recorded; what is there need not be kept here any more. */
export interface TakeLogSender {
  /** Begins to send what is new, unless it is being sent. */
  poke(): void;
  /** Resolves when all of it is on the server. @throws {Error} when the server will never take it */
  flush(): Promise<void>;
}

/** @param onSent something of `meta` is other now */
export function createTakeLogSender(meta: TakeMeta, onSent: () => void, onProblem: (problem: Problem | null) => void): TakeLogSender {
  let sending: Promise<void> | null = null;
  const send = async (): Promise<void> => {
    while (meta.planChanges.length > 0) {
      const some = meta.planChanges.slice(0, AT_ONCE);
      const plans = some.map((entry: PlanInForce, k) => ({ place: meta.plansSent + k, ...entry }));
      await sendUntilTaken('POST', `/api/takes/${meta.take}/log`, { plans }, onProblem);
      meta.planChanges.splice(0, some.length);
      meta.plansSent += some.length;
      onSent();
    }
  };
  const begin = (): Promise<void> =>
    (sending ??= send().finally(() => {
      sending = null;
    }));
  return {
    // What the server will never take is said when the take is sealed.
    poke: () => void begin().catch(() => undefined),
    async flush() {
      await begin();
      // What came while the last was on its way.
      if (meta.planChanges.length > 0) await begin();
    },
  };
}
