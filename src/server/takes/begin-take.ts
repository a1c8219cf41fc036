import type { LeftOut } from '@/core/takes/pauses';
import type pg from 'pg';
import { inTransaction } from '../database';
import { copyConsents } from '../seats/queries';
import { findPlan } from '../episodes/queries';
import type { HearingPlan } from '@/core/hearing/plan';
import { NO_HANDS, type KeptHands } from '@/core/takes/plan-log';
import { insertTake, insertTrack, type NewTrack } from './queries';

export interface BegunTake {
  take: string;
  number: number;
  /** Ids of the tracks, in the order they were asked for. */
  tracks: string[];
}

/** Begins a take of an episode. What the desk has in force is kept beside it; without a word of the desk, the plan that is stored. */
export async function beginTake(
  pool: pg.Pool,
  episode: string,
  tracks: readonly NewTrack[],
  leftOut: readonly LeftOut[] = [],
  inForce: { plan: HearingPlan; hands: KeptHands } | null = null,
): Promise<BegunTake> {
  return inTransaction(pool, async (client) => {
    const { plan, hands } = inForce ?? { ...(await findPlan(client, episode)), hands: NO_HANDS };
    const { id, number } = await insertTake(client, { episode, plan, hands, leftOut });
    const ids: string[] = [];
    for (const [place, track] of tracks.entries()) ids.push(await insertTrack(client, id, place, track));
    await copyConsents(client, episode, id);
    return { take: id, number, tracks: ids };
  });
}
