import type { LogReader } from '../worklet/take-log';
import type { NumberedPlan } from './messages';
import type { TakeMeta } from './kept-files';

/** Plans that were sent with a number are found by it until so many newer ones came. */
const PLANS_KEPT = 4096;

/** Takes what the audio thread wrote down into what is kept of the take. */
export interface LogFollower {
  /** A plan that may come into force. */
  plan(plan: NumberedPlan): void;
  /** Reads what is new; true when something was. */
  read(): boolean;
  /** Why something is missing from the log; null as long as nothing is. */
  missing(): string | null;
}

export function followLog(reader: LogReader, meta: TakeMeta): LogFollower {
  const plans = new Map<number, NumberedPlan>();
  /** Plans that came into force and that nobody has told of yet: the audio thread can be quicker than the message. */
  const untold: { atSample: number; number: number }[] = [];
  let newest = -1;
  let ended = false;
  let unknown = 0;
  return {
    plan(plan) {
      plans.set(plan.number, plan);
      newest = plan.number;
      if (plans.size > PLANS_KEPT) plans.delete(plans.keys().next().value!);
    },
    read() {
      let changed = false;
      for (const entry of reader.read()) {
        changed = true;
        if (entry.type === 'begun') meta.sessionClock ??= entry.clock - entry.atSample;
        if (entry.type === 'paused') meta.pauses.push({ atSample: entry.atSample, lengthSamples: entry.lengthSamples });
        ended ||= entry.type === 'ended';
        if (entry.type === 'plan') untold.push({ atSample: entry.atSample, number: entry.plan });
      }
      const known = untold.findIndex(({ number }) => number > newest);
      for (const { atSample, number } of untold.splice(0, known < 0 ? untold.length : known)) {
        changed = true;
        const found = plans.get(number);
        // Numbers are told in their order: one that is passed over never comes.
        if (!found) unknown++;
        else meta.planChanges.push({ atSample, plan: found.plan, hands: found.hands, ...(found.rampSeconds === undefined ? {} : { rampSeconds: found.rampSeconds }) });
      }
      return changed;
    },
    missing() {
      const lost = reader.lost() + unknown + (ended ? untold.length : 0);
      return lost === 0 ? null : `${lost} ${lost === 1 ? 'entry' : 'entries'} of this take’s log could not be read: a mix made afterwards may differ there from what was heard. The tracks are whole.`;
    },
  };
}
