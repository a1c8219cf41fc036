import type { Querier } from '../database';
import { databaseSpace } from '../disk-space';
import { whoLives } from './beats';

/** With less a take of an hour may not fit, bytes. */
const LEAST_FREE_BYTES = 2e9;

export interface Ready {
  ready: boolean;
  database: 'ok' | 'away';
  disk: 'ok' | 'nearly full' | 'not known';
  workers: 'ok' | 'none';
  sender: 'ok' | 'none';
}

/** Whether everything that is needed for a show is there. */
export async function readiness(db: Querier, leastFreeBytes = LEAST_FREE_BYTES): Promise<Ready> {
  try {
    const [{ worker, sender }, free] = [await whoLives(db), await databaseSpace(db)];
    const disk = free === null ? 'not known' : free < leastFreeBytes ? 'nearly full' : 'ok';
    const ready: Ready = { ready: false, database: 'ok', disk, workers: worker > 0 ? 'ok' : 'none', sender: sender > 0 ? 'ok' : 'none' };
    return { ...ready, ready: disk !== 'nearly full' && worker > 0 && sender > 0 };
  } catch {
    return { ready: false, database: 'away', disk: 'not known', workers: 'none', sender: 'none' };
  }
}
