import { ISOLATION_WINDOW, measureIsolation } from '@/core/checks/isolation';
import { ownSpeech } from '@/core/checks/own-speech';
import type { TakeCheck } from '@/core/checks/take-check';
import { neverInCall } from '@/core/takes/presence';
import { listChunks } from '../takes/chunk-store';
import { findTake, listGaps, listTracks, type TrackRow } from '../takes/queries';
import { isSource } from '../takes/source-tracks';
import { isMeasured, keepMeasure, keptMeasures } from './kept-measures';
import { RefusedTask } from './refused';
import { createTrackMeasure, type MeasuredTrack } from './track-measure';
import { createTrackReader } from './track-reader';
import type { Work } from './work';

/** Of a long take so many windows are compared before all else: the same work however long it is. */
const FIRST_WINDOWS = 12;
/** Shorter takes are done before a first look would help. */
const FIRST_LOOK_FROM = 5 * FIRST_WINDOWS * ISOLATION_WINDOW;
/** Share of the time that the first look takes, and that the tracks by themselves have taken after it, roughly. */
const FIRST_SHARE = 0.05;
const TRACKS_SHARE = 0.4;
/** How often it is looked whether another has measured a track by now. */
const LOOK_AGAIN_MS = 200;

/** Measures every source of a take, and how much of each is in each voice. */
export async function checkTake({ pool, take: id, progress, show }: Work): Promise<TakeCheck> {
  const take = await findTake(pool, id);
  const lengthSamples = take.length_samples;
  if (lengthSamples === null) throw new RefusedTask('This take is still open; it is checked when it is sealed.');
  // Of whoever was never in the call there is nothing to measure, and nobody to compare.
  const away = neverInCall(await listGaps(pool, id), lengthSamples);
  const sources = (await listTracks(pool, id)).filter((track) => isSource(track) && !away.has(track.id));
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

  const measured = await measureTracks(pool, id, sources, lengthSamples, (share) => progress(FIRST_SHARE + (TRACKS_SHARE - FIRST_SHARE) * share));
  const tracks: TakeCheck['tracks'] = sources.map(({ id: track }, k) => ({ track, storedSamples: stored.get(track) ?? 0, ...measured[k].measured }));
  const steps = measured.map((one) => one.steps);

  const { found, isolation } = await compare(TRACKS_SHARE, 1);
  for (const [place, { kind }] of sources.entries()) {
    if (kind !== 'voice') continue;
    const beside = found.flatMap(({ source, target, gainDb, delayMs }) => (target === place && gainDb !== null && delayMs !== null ? [{ steps: steps[source], gainDb, delayMs }] : []));
    tracks[place].speech = ownSpeech(steps[place], tracks[place].noiseFloorDb, beside);
  }
  return { tracks, isolation };
}

/** What is known of each track by itself: mostly it was measured while it was recorded, and what is missing is measured here. */
async function measureTracks(pool: Work['pool'], take: string, tracks: readonly TrackRow[], lengthSamples: number, progress: (share: number) => Promise<void>): Promise<MeasuredTrack[]> {
  const isMissing = (kept: ReadonlyMap<string, MeasuredTrack>) => tracks.some(({ id }) => !kept.has(id));
  let kept = await keptMeasures(pool, take);
  // Whoever measured it until its end has a few seconds of it left.
  while (isMissing(kept) && (await isMeasured(pool, take))) {
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
    await progress(0);
    kept = await keptMeasures(pool, take);
  }
  const all: MeasuredTrack[] = [];
  for (const [k, track] of tracks.entries()) {
    const share = (done: number) => progress((k + done) / tracks.length);
    const there = kept.get(track.id);
    const measured = there ?? (await createTrackMeasure(pool, track).finish(lengthSamples, share));
    if (!there) await keepMeasure(pool, track.id, measured);
    all.push(measured);
    await share(1);
  }
  return all;
}

/** How much of each track arrived. */
async function storedSamples(pool: Work['pool'], take: string): Promise<Map<string, number>> {
  const stored = new Map<string, number>();
  for (const { track, frames } of await listChunks(pool, take)) stored.set(track, (stored.get(track) ?? 0) + frames);
  return stored;
}
