import type pg from 'pg';
import { HttpError } from '../http/errors';
import { findTake, listTracks, type TakeRow } from '../takes/queries';
import { isSource } from '../takes/source-tracks';
import { createGiveWay } from './give-way';
import { endMeasuring, keepMeasure, sayMeasuring, takesToFollow } from './kept-measures';
import { createTrackMeasure, type TrackMeasure } from './track-measure';

/** A take of which nothing has come for so long is let go; whoever ends it measures it from the beginning. */
const LET_GO_AFTER_MS = 3_600_000;
/** So often it says that it is there. */
const SAY_EVERY_MS = 3000;

interface Followed {
  measures: Map<string, TrackMeasure>;
  cameAt: number;
}

/** Measures takes while they are recorded, so that at their end little more than the comparison of their tracks is left. */
export interface TakeFollower {
  /** Measures what has come since the last time; keeps what was measured of takes that were sealed. */
  look(): Promise<void>;
}

/** @param now ms, a clock for tests */
export function createTakeFollower(pool: pg.Pool, worker: string, now = () => Date.now()): TakeFollower {
  const followed = new Map<string, Followed>();

  const letGo = async (take: string): Promise<void> => {
    followed.delete(take);
    await endMeasuring(pool, take, worker);
  };

  /** The take as it is now; null where it was removed or another worker has it. */
  const own = async (take: string): Promise<TakeRow | null> => {
    if (!(await sayMeasuring(pool, take, worker))) return null;
    return findTake(pool, take).catch((error: unknown) => {
      if (error instanceof HttpError) return null;
      throw error;
    });
  };

  const follow = async (id: string, one: Followed): Promise<void> => {
    const take = await own(id);
    if (!take) return letGo(id);
    const measures = (await listTracks(pool, id)).filter(isSource).map((track) => {
      const measure = one.measures.get(track.id) ?? createTrackMeasure(pool, track);
      one.measures.set(track.id, measure);
      return measure;
    });
    const giveWay = createGiveWay(pool);
    let said = now();
    const afterEach = async (): Promise<void> => {
      await giveWay.rest();
      if (now() - said < SAY_EVERY_MS) return;
      said = now();
      await sayMeasuring(pool, id, worker);
    };
    for (const measure of measures) {
      if (take.length_samples !== null) await keepMeasure(pool, measure.track.id, await measure.finish(take.length_samples, afterEach));
      else if (await measure.catchUp(afterEach)) one.cameAt = now();
    }
    if (take.length_samples !== null || now() - one.cameAt > LET_GO_AFTER_MS) await letGo(id);
  };

  return {
    async look() {
      for (const id of await takesToFollow(pool)) {
        if (!followed.has(id)) followed.set(id, { measures: new Map(), cameAt: now() });
      }
      for (const [id, one] of [...followed]) {
        await follow(id, one).catch(async (error: unknown) => {
          // How far its tracks were measured is not certain: it begins anew, or is measured when it is checked.
          await letGo(id).catch(() => undefined);
          throw error;
        });
      }
    },
  };
}
