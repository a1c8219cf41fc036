import { measureIsolation } from '@/core/checks/isolation';
import type { TakeCheck } from '@/core/checks/take-check';
import { repairBleed } from '@/core/echo/bleed-repair';
import { completeDerivedTrack, findTake, findTrack, removeTrack } from '../takes/queries';
import { storeDerived } from './derived-track';
import { RefusedTask } from './refused';
import type { Work } from './work';
import { newestCheck } from './tasks';
import { createTrackReader } from './track-reader';

const RATE = 48000;
const REPAIR_SHARE = 0.75;
/** Less than this is no improvement worth a second track, and more than that is worse, dB. */
const LEAST_GAIN_DB = 3;
const WORSE_DB = 1;
/** How loud somebody is taken to be where the check could not tell, dB. */
const SUPPOSED_DB = -30;

interface RepairedSource {
  source: string;
  beforeDb: number | null;
  afterDb: number | null;
  stillFound: boolean;
}

export interface RepairResult {
  /** The repaired track; null when it was not better, and the original alone stays. */
  track: string | null;
  /** Each source that was heard: how much before and after, dB against its own track, null where that could not be told; and whether it is still found. */
  sources: RepairedSource[];
}

/** Makes a track without the others in it, beside the one that has them, if it comes out better. */
export async function repairTrack({ pool, take: takeId, progress }: Work, trackId: string): Promise<RepairResult> {
  const take = await findTake(pool, takeId);
  const check = (await newestCheck(pool, takeId)) as TakeCheck | null;
  if (take.length_samples === null || !check) throw new RefusedTask('Check this take first: repair needs to know who is heard in this track, and how late.');
  const lengthSamples = take.length_samples;
  const track = await findTrack(pool, takeId, trackId);
  const heard = check.isolation.filter(({ target, verdict, delayMs }) => target === trackId && (verdict === 'bleeds' || verdict === 'unknown') && delayMs !== null);
  if (heard.length === 0) throw new RefusedTask(`Nobody else was found in ${track.name}’s track.`);
  const reader = createTrackReader(pool, track, lengthSamples);
  const sources = await Promise.all(heard.map(async ({ source, delayMs, gainDb }) => ({ gainDb: gainDb ?? SUPPOSED_DB, delaySamples: Math.round((delayMs! * RATE) / 1000), reader: createTrackReader(pool, await findTrack(pool, takeId, source), lengthSamples) })));
  const made = await storeDerived(
    pool,
    track,
    'repaired',
    repairBleed({
      lengthSamples,
      track: reader.mono,
      sources: sources.map(({ delaySamples, gainDb, reader: { mono } }) => ({ delaySamples, gainDb, read: mono })),
      onProgress: (share) => progress(REPAIR_SHARE * share),
    }),
  );
  try {
    const after = createTrackReader(pool, await findTrack(pool, takeId, made), lengthSamples);
    // Whoever bleeds into a source is looked at as well: what of it does not come along is told apart only then.
    const beside = new Set(check.isolation.filter(({ source, target, verdict }) => verdict === 'bleeds' && source !== trackId && heard.some((one) => one.source === target) && !heard.some((one) => one.source === source)).map(({ source }) => source));
    const others = await Promise.all([...beside].map(async (id) => createTrackReader(pool, await findTrack(pool, takeId, id), lengthSamples)));
    const readers = [after, ...sources.map((one) => one.reader), ...others];
    const found = await measureIsolation({
      count: readers.length,
      targets: readers.map((_, place) => place),
      lengthSamples,
      read: (place, from, length) => readers[place].mono(from, length),
      onProgress: (share) => progress(REPAIR_SHARE + (1 - REPAIR_SHARE) * share),
    });
    const compared = heard.map(({ source, gainDb }, k): RepairedSource => {
      const after = found.find((one) => one.target === 0 && one.source === k + 1);
      return { source, beforeDb: gainDb, afterDb: after?.gainDb ?? null, stillFound: after?.verdict === 'bleeds' || after?.verdict === 'unknown' };
    });
    if (!isBetter(compared)) {
      await removeTrack(pool, made);
      return { track: null, sources: compared };
    }
    await completeDerivedTrack(pool, made, { sources: compared });
    return { track: made, sources: compared };
  } catch (error) {
    await removeTrack(pool, made);
    throw error;
  }
}

/** At least one source is clearly less or gone, and none is more than it was. */
function isBetter(sources: readonly RepairedSource[]): boolean {
  const change = ({ beforeDb, afterDb }: RepairedSource) => (beforeDb === null || afterDb === null ? 0 : afterDb - beforeDb);
  return sources.some((one) => !one.stillFound || change(one) < -LEAST_GAIN_DB) && sources.every((one) => !one.stillFound || change(one) < WORSE_DB);
}
