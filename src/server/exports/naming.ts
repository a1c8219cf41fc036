import { distinctNames, trackFileName, takeFileName } from '@/core/takes/file-name';
import type { Querier } from '../database';
import { findEpisode } from '../episodes/queries';
import { findRecordingSettings } from '../shows/recording-settings';
import { listTracks, type TakeRow, type TrackRow } from '../takes/queries';

/** Names of the files about one take. */
export interface TakeNaming {
  show: string;
  showId: string;
  episodeTitle: string;
  /** `Ferry-Weather_E14_2026-11-23_take-1` */
  take: string;
  /** No two tracks of the take have the same one. */
  track(track: Pick<TrackRow, 'id'>): string;
}

/** The day it is in a zone (2026-11-23); where the server stands when the zone is not known. */
export function dayIn(timeZone: string | null, moment: Date): string {
  // The Swedish way of writing a day is the one of ISO 8601.
  return new Intl.DateTimeFormat('sv-SE', { timeZone: timeZone ?? undefined, dateStyle: 'short' }).format(moment);
}

export async function namingOf(db: Querier, take: TakeRow): Promise<TakeNaming> {
  const { show, number, title, show_id, time_zone } = await findEpisode(db, take.episode_id);
  const { fileNames } = await findRecordingSettings(db, show_id);
  const base = { show, episode: number, take: take.number, date: dayIn(time_zone, take.started_at) };
  const tracks = await listTracks(db, take.id);
  const names = distinctNames(tracks.map((track) => trackFileName({ ...base, place: track.place + 1, name: track.name, kind: track.kind }, fileNames)));
  return {
    show,
    showId: show_id,
    episodeTitle: title,
    take: takeFileName(base),
    track: ({ id }) => names[tracks.findIndex((one) => one.id === id)] ?? takeFileName(base),
  };
}
