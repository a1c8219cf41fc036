import type { Querier } from '../database';
import { isRecording } from '../takes/queries';

/** How often it is looked whether something is being recorded. */
const LOOK_EVERY_MS = 2000;
/** So long is rested for so long a piece of work while it is: a worker then takes a quarter of a processor. */
const REST_FOR_WORK = 3;
const LONGEST_REST_MS = 3000;
/** Shorter pieces of work are put together. */
const SHORTEST_WORK_MS = 40;

export interface GiveWayOptions {
  now?(): number;
  rest?(ms: number): Promise<void>;
}

/**
 * For long work to call now and then: while a take is being recorded it rests in between. A low priority alone leaves too
 * little to a call on machines whose processors are shared with others.
 */
export function createGiveWay(db: Querier, { now = () => performance.now(), rest = (ms) => new Promise((resolve) => setTimeout(resolve, ms)) }: GiveWayOptions = {}): () => Promise<void> {
  let lookedAt = -Infinity;
  let recording = false;
  let workedFrom = now();
  return async () => {
    const worked = now() - workedFrom;
    if (worked < SHORTEST_WORK_MS) return;
    if (now() - lookedAt > LOOK_EVERY_MS) {
      recording = await isRecording(db);
      lookedAt = now();
    }
    if (recording) await rest(Math.min(LONGEST_REST_MS, REST_FOR_WORK * worked));
    workedFrom = now();
  };
}
