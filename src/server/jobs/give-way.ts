import type { HeldUp } from '@/core/tasks/task';
import type { Querier } from '../database';
import { whatRuns } from '../takes/queries';

/** How often it is looked whether something is being recorded. */
const LOOK_EVERY_MS = 2000;
const LONGEST_REST_MS = 3000;
/** Shorter pieces of work are put together. */
const SHORTEST_WORK_MS = 40;
/** A worker that gets less than this share of a processor while it works is held up by other programs. */
const STARVED = 0.4;
const MINUTE_MS = 60_000;

/**
 * How long is rested for so long a piece of work, by how long the task has been wanted: a young one leaves a call its room,
 * and an old one gets on, for it must end some day however long the call lasts.
 */
const RESTS: readonly { untilMinutes: number; recording: number; call: number }[] = [
  { untilMinutes: 2, recording: 3, call: 1 },
  { untilMinutes: 10, recording: 1, call: 0.5 },
  { untilMinutes: Infinity, recording: 0.25, call: 0.25 },
];

export interface GiveWayOptions {
  /** How long ago the task was asked for when this begins, ms. */
  ageMs?: number;
  now?(): number;
  /** Time this process has had a processor, ms. */
  worked?(): number;
  rest?(ms: number): Promise<void>;
}

/** For long work to rest now and then, while there is something that cannot wait. */
export interface GiveWay {
  rest(): Promise<void>;
  /** What holds the work up; null for nothing. */
  heldUp(): HeldUp | null;
}

const cpuMs = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};

/** A low priority alone leaves too little to a call on machines whose processors are shared with others. */
export function createGiveWay(db: Querier, { ageMs = 0, now = () => performance.now(), worked = cpuMs, rest = (ms) => new Promise((resolve) => setTimeout(resolve, ms)) }: GiveWayOptions = {}): GiveWay {
  const began = now();
  let lookedAt = -Infinity;
  let runs: 'recording' | 'call' | null = null;
  let from = now();
  let cpuFrom = worked();
  /** Share of a processor, over the last pieces of work. */
  let share = 1;
  const restNow = async (wall: number): Promise<void> => {
    share = 0.8 * share + 0.2 * Math.min(1, (worked() - cpuFrom) / wall);
    if (now() - lookedAt > LOOK_EVERY_MS) {
      runs = await whatRuns(db);
      lookedAt = now();
    }
    const minutes = (ageMs + now() - began) / MINUTE_MS;
    const factor = runs === null ? 0 : RESTS.find(({ untilMinutes }) => minutes < untilMinutes)![runs];
    if (factor > 0) await rest(Math.min(LONGEST_REST_MS, factor * wall));
    from = now();
    cpuFrom = worked();
  };
  // What one task does side by side rests together: each would else work through the rest of the other.
  let resting: Promise<void> | null = null;
  return {
    async rest() {
      const wall = now() - from;
      if (resting === null && wall < SHORTEST_WORK_MS) return;
      resting ??= restNow(wall).finally(() => (resting = null));
      await resting;
    },
    heldUp: () => runs ?? (share < STARVED ? 'machine' : null),
  };
}
