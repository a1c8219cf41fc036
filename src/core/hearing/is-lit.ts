import { voiceOf, type SourceId } from './ids';
import { sourceSettings, type HearingPlan } from './plan';

/** Whether a source is in the program at all. */
export function isLit(plan: HearingPlan, source: SourceId): boolean {
  const { on, offIn } = sourceSettings(plan, source);
  const waits = plan.waiting.some((seat) => voiceOf(seat) === source);
  return on && !waits && !offIn.includes('program');
}
