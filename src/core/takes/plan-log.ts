import { z } from '../zod';
import type { SourceId, TalkbackId } from '../hearing/ids';
import { NOTHING_ON_AIR, type OnAir } from '../hearing/on-air';
import type { HearingPlan } from '../hearing/plan';
import { hearingPlanSchema, listenerId, sourceId } from '../hearing/plan-schema';

/** What the hands did over the plan that anybody but the host could hear. */
export type KeptHands = Pick<OnAir, 'cough' | 'talk' | 'sideTalk' | 'talkDimDb' | 'held'>;

/** A plan with the hands over it, from a sample of the take on. */
export interface PlanInForce {
  atSample: number;
  plan: HearingPlan;
  hands: KeptHands;
  /** How long the gains took to get there, seconds; as long as the engine likes where it is absent. */
  rampSeconds?: number;
}

/** The hands without what only the host's phones had of them. */
export const keptHands = ({ cough, talk, sideTalk, talkDimDb, held }: OnAir): KeptHands => ({ cough, talk, sideTalk, talkDimDb, held });

export const NO_HANDS: KeptHands = Object.freeze(keptHands(NOTHING_ON_AIR));

/** Hands of a take as the compiler takes them. */
export const asOnAir = (hands: KeptHands): OnAir => ({ ...NOTHING_ON_AIR, ...hands });

const talk = z.strictObject({ from: sourceId as z.ZodType<SourceId> as unknown as z.ZodType<TalkbackId>, to: z.array(listenerId).max(64) });

export const keptHandsSchema: z.ZodType<KeptHands> = z.strictObject({
  cough: z.partialRecord(sourceId, z.strictObject({ callers: z.boolean(), program: z.boolean() })).default({}),
  talk: talk.nullable().default(null),
  sideTalk: z.array(talk).max(16).default([]),
  talkDimDb: z.number().min(0).max(100).default(NOTHING_ON_AIR.talkDimDb),
  held: z.array(sourceId).max(64).default([]),
});

/** A plan in force with its place in the take's log, so that one sent twice is kept once. */
export const placedPlanSchema = z.strictObject({
  place: z.number().int().min(0).max(10_000_000),
  atSample: z.number().int().nonnegative(),
  plan: hearingPlanSchema,
  hands: keptHandsSchema,
  rampSeconds: z.number().min(0).max(60).optional(),
});

/** What was in force at a take's beginning, and what came after it: of several at the first sample the last was heard. */
export function fromTheBeginning(planAtBegin: HearingPlan, log: readonly PlanInForce[]): { begin: PlanInForce; changes: PlanInForce[] } {
  const later = log.findIndex(({ atSample }) => atSample > 0);
  const count = later < 0 ? log.length : later;
  return { begin: log[count - 1] ?? { atSample: 0, plan: planAtBegin, hands: NO_HANDS }, changes: log.slice(count) };
}
