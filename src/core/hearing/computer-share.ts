import { shareOf } from './ids';
import type { HearingPlan } from './plan';

/** What the host shares of their computer's sound: one at a time, always with a place of its own. */
export const COMPUTER = { id: 'computer', name: 'Computer' };
export const COMPUTER_SHARE = shareOf(COMPUTER.id);

/** The plan with a place for shared computer sound, so that it has a track from the first take on. */
export function withComputerShare(plan: HearingPlan): HearingPlan {
  return plan.shares.some(({ id }) => id === COMPUTER.id) ? plan : { ...plan, shares: [...plan.shares, COMPUTER] };
}
