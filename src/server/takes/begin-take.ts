import type { LeftOut } from '@/core/takes/pauses';
import type pg from 'pg';
import { inTransaction } from '../database';
import { copyConsents } from '../seats/queries';
import { findPlan } from '../episodes/queries';
import { insertTake, insertTrack, type NewTrack } from './queries';

export interface BegunTake {
  take: string;
  number: number;
  /** Ids of the tracks, in the order they were asked for. */
  tracks: string[];
}

/** Begins a take of an episode, with the plan now in force kept beside it. */
export async function beginTake(pool: pg.Pool, episode: string, tracks: readonly NewTrack[], leftOut: readonly LeftOut[] = []): Promise<BegunTake> {
  return inTransaction(pool, async (client) => {
    const { plan } = await findPlan(client, episode);
    const { id, number } = await insertTake(client, { episode, plan, leftOut });
    const ids: string[] = [];
    for (const [place, track] of tracks.entries()) ids.push(await insertTrack(client, id, place, track));
    await copyConsents(client, episode, id);
    return { take: id, number, tracks: ids };
  });
}
