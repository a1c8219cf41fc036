import { z } from '@/core/zod';
import type { HearingPlan } from '@/core/hearing/plan';
import { forgetLocal, readLocal, writeLocal } from '../local-storage';

/** A plan that was changed here and is not known to be on the server. */
export interface UnsentPlan {
  /** What the server was known to have. */
  version: number;
  base: HearingPlan;
  /** What was sent and not answered; null for nothing. */
  sent: HearingPlan | null;
  plan: HearingPlan;
}

const unsentSchema = z.object({ version: z.number(), base: z.unknown(), sent: z.unknown(), plan: z.unknown() });

const keyOf = (episode: string): string => `brisk-lantern.unsent-plan.${episode}`;

/** Keeps it in this browser: a window that closes, or dies, while the server is away must not take the host's work with it. */
export const keepUnsent = (episode: string, unsent: UnsentPlan): void => writeLocal(keyOf(episode), unsent);

export const forgetUnsent = (episode: string): void => forgetLocal(keyOf(episode));

/** What an earlier window kept; null where that is nothing, or was written by another version of the product. */
export async function readUnsent(episode: string): Promise<UnsentPlan | null> {
  const kept = readLocal(keyOf(episode), unsentSchema);
  if (!kept) return null;
  // Few windows ever need it: what reads plans is loaded by those.
  const { hearingPlanSchema } = await import('@/core/hearing/plan-schema');
  const [base, sent, plan] = [kept.base, kept.sent ?? kept.base, kept.plan].map((one) => hearingPlanSchema.safeParse(one).data);
  return base && sent && plan ? { version: kept.version, base, sent: kept.sent === null ? null : sent, plan } : null;
}
