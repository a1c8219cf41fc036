import { gainToDb, powerToDb } from '@/core/dsp/decibels';
import type { TakeData } from '@/core/session/take-data';
import type { Querier } from '../database';
import { findMixSettings } from '../shows/mix-settings';
import { listSounds } from '../sounds/queries';
import { lineCheckOfTake } from '../checks/line-checks';
import { listHomes } from '../home/queries';
import { takeConsents } from '../seats/queries';
import { namingOf } from '../exports/naming';
import { listMarkers } from './markers';
import { listPlays } from './plays';
import { listPlanWords } from './take-log';
import { findTake, listGaps, listTracks, trackLevels, type TrackRow } from './queries';

/** A take with its tracks and their measured levels. @throws {HttpError} 404 */
export async function loadTake(db: Querier, id: string): Promise<TakeData & { episode: string }> {
  const take = await findTake(db, id);
  const [tracks, gaps, levels, consents, plays, markers, planChanges, homes, lineCheck] = await Promise.all([
    listTracks(db, take.id),
    listGaps(db, take.id),
    trackLevels(db, take.id),
    takeConsents(db, take.id),
    listPlays(db, take.id),
    listMarkers(db, take.id),
    listPlanWords(db, take.id),
    listHomes(db, take.id),
    lineCheckOfTake(db, take.id),
  ]);
  const { showId: show } = await namingOf(db, take);
  const [settings, sounds] = await Promise.all([findMixSettings(db, show), listSounds(db, show)]);
  const lengthSamples = take.length_samples ?? 0;
  return {
    id: take.id,
    episode: take.episode_id,
    number: take.number,
    name: take.name,
    note: take.note,
    binnedAt: take.binned_at?.toISOString() ?? null,
    state: take.state,
    startedAt: take.started_at.toISOString(),
    lengthSamples,
    gaps,
    plays,
    markers,
    pauses: take.pauses,
    leftOut: take.not_recorded,
    homes,
    lineCheck,
    planChanges,
    mix: { show, settings, sounds: sounds.map(({ id, name }) => ({ id, name })) },
    consents: consents.map((consent) => ({ ...consent, agreedAt: consent.agreedAt.toISOString() })),
    tracks: besideOrigin(tracks).map(({ id, kind, name, channels, format, derived_from, made }) => {
      const level = levels.find(({ track }) => track === id);
      const meanSquare = level && lengthSamples > 0 ? level.sumOfSquares / (lengthSamples * channels) : 0;
      return {
        id,
        kind,
        name,
        channels,
        format,
        derivedFrom: derived_from,
        made,
        peakDb: finite(gainToDb(level?.peak ?? 0)),
        rmsDb: finite(powerToDb(meanSquare)),
      };
    }),
  };
}

/** What was made from a track follows it. */
const besideOrigin = (tracks: readonly TrackRow[]): TrackRow[] => tracks.filter(({ derived_from }) => derived_from === null).flatMap((origin) => [origin, ...tracks.filter(({ derived_from }) => derived_from === origin.id)]);

const finite = (db: number): number | null => (Number.isFinite(db) ? db : null);
