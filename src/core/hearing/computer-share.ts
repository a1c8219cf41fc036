import type { LoopFound } from '../echo/loop-guard';
import { declareCoupling } from './coupling';
import { shareOf, type ListenerId } from './ids';
import type { HearingPlan } from './plan';

/** What the host shares of their computer's sound: one at a time, always with a place of its own. */
export const COMPUTER = { id: 'computer', name: 'Computer' };
export const COMPUTER_SHARE = shareOf(COMPUTER.id);

/** The plan with a place for shared computer sound, so that it has a track from the first take on. */
export function withComputerShare(plan: HearingPlan): HearingPlan {
  return plan.shares.some(({ id }) => id === COMPUTER.id) ? plan : { ...plan, shares: [...plan.shares, COMPUTER] };
}

/** The plan with what was measured of a share that contains a mix; null when it no longer does. */
export function withShareLoop(plan: HearingPlan, contains: ListenerId, loop: LoopFound | null, at?: Date): HearingPlan {
  const others = plan.couplings.filter(({ kind, to, measured }) => !(kind === 'share-contains' && to === COMPUTER_SHARE && measured));
  if (!loop) return others.length === plan.couplings.length ? plan : { ...plan, couplings: others };
  const measured = { gainDb: Math.round(loop.gainDb * 10) / 10, delayMs: Math.round(loop.delayMs), measured: true, ...(at && { by: 'the loop guard', at: at.toISOString() }) };
  return { ...plan, couplings: [...others, { ...declareCoupling('share-contains', contains, COMPUTER_SHARE), ...measured }] };
}
