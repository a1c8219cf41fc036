import { ISOLATION_WINDOW, measureIsolation } from '@/core/checks/isolation';
import { ownSpeech } from '@/core/checks/own-speech';
import type { TakeCheck } from '@/core/checks/take-check';
import { createTrackChecker } from '@/core/checks/track-check';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { neverInCall } from '@/core/takes/presence';
import { listChunks } from '../takes/chunk-store';
import { findTake, listGaps, listTracks } from '../takes/queries';
import { RefusedTask } from './refused';
import type { Work } from './work';
import { createTrackReader } from './track-reader';

/** Of a long take so many windows are compared before all else: the same work however long it is. */
const FIRST_WINDOWS = 12;
/** Shorter takes are done before a first look would help. */
const FIRST_LOOK_FROM = 5 * FIRST_WINDOWS * ISOLATION_WINDOW;
/** Share of the time that the first look takes, and that the tracks by themselves have taken after it, roughly. */
const FIRST_SHARE = 0.05;
const TRACKS_SHARE = 0.4;
/** What carries a source of its own: these are compared with each other. */
const SOURCE_KINDS = ['voice', 'sounds', 'share', 'input'];

/** Measures every source of a take, and how much of each is in each voice. */
export async function checkTake({ pool, take: id, progress, show }: Work): Promise<TakeCheck> {
  const take = await findTake(pool, id);
  const lengthSamples = take.length_samples;
  if (lengthSamples === null) throw new RefusedTask('This take is still open; it is checked when it is sealed.');
  // Of whoever was never in the call there is nothing to measure, and nobody to compare.
  const away = neverInCall(await listGaps(pool, id), lengthSamples);
  const sources = (await listTracks(pool, id)).filter((track) => SOURCE_KINDS.includes(track.kind) && track.derived_from === null && !away.has(track.id));
  const readers = sources.map((track) => createTrackReader(pool, track, lengthSamples));
  const stored = await storedSamples(pool, id);

  const compare = async (fromShare: number, toShare: number, mostWindows?: number) => {
    const found = await measureIsolation({
      count: sources.length,
      targets: sources.flatMap(({ kind }, place) => (kind === 'voice' ? [place] : [])),
      lengthSamples,
      read: (place, from, length) => readers[place].mono(from, length),
      mostWindows,
      onProgress: (share) => progress(fromShare + (toShare - fromShare) * share),
    });
    return { found, isolation: found.map((pair) => ({ ...pair, source: sources[pair.source].id, target: sources[pair.target].id })) };
  };
  if (lengthSamples > FIRST_LOOK_FROM) {
    const { isolation } = await compare(0, FIRST_SHARE, FIRST_WINDOWS);
    await show({ tracks: [], isolation } satisfies TakeCheck);
  }

  const tracks: TakeCheck['tracks'] = [];
  const steps: (readonly number[])[] = [];
  for (const [k, { track, stretch }] of readers.entries()) {
    const checker = createTrackChecker(track.channels);
    for (let at = 0; at < lengthSamples; at += CHUNK_FRAMES) {
      checker.push(await stretch(at, Math.min(CHUNK_FRAMES, lengthSamples - at)));
      await progress(FIRST_SHARE + ((TRACKS_SHARE - FIRST_SHARE) * (k + at / lengthSamples)) / readers.length);
    }
    tracks.push({ track: track.id, storedSamples: stored.get(track.id) ?? 0, ...checker.result() });
    steps.push(checker.steps());
  }

  const { found, isolation } = await compare(TRACKS_SHARE, 1);
  for (const [place, { kind }] of sources.entries()) {
    if (kind !== 'voice') continue;
    const beside = found.flatMap(({ source, target, gainDb, delayMs }) => (target === place && gainDb !== null && delayMs !== null ? [{ steps: steps[source], gainDb, delayMs }] : []));
    tracks[place].speech = ownSpeech(steps[place], tracks[place].noiseFloorDb, beside);
  }
  return { tracks, isolation };
}

/** How much of each track arrived. */
async function storedSamples(pool: Work['pool'], take: string): Promise<Map<string, number>> {
  const stored = new Map<string, number>();
  for (const { track, frames } of await listChunks(pool, take)) stored.set(track, (stored.get(track) ?? 0) + frames);
  return stored;
}
