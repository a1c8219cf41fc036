import { trackFileName, takeFileName } from '@/core/takes/file-name';
import type { Querier } from '../database';
import { findEpisode } from '../episodes/queries';
import { findRecordingSettings } from '../shows/recording-settings';
import type { TakeRow, TrackRow } from '../takes/queries';

/** Names of the files about one take. */
export interface TakeNaming {
  show: string;
  showId: string;
  episodeTitle: string;
  /** `Ferry-Weather_E14_2026-11-23_take-1` */
  take: string;
  track(track: TrackRow): string;
}

export async function namingOf(db: Querier, take: TakeRow): Promise<TakeNaming> {
  const { show, number, title, show_id } = await findEpisode(db, take.episode_id);
  const { fileNames } = await findRecordingSettings(db, show_id);
  const base = { show, episode: number, take: take.number, date: take.started_at.toISOString().slice(0, 10) };
  return {
    show,
    showId: show_id,
    episodeTitle: title,
    take: takeFileName(base),
    track: (track) => trackFileName({ ...base, place: track.place + 1, name: track.name, kind: track.kind }, fileNames),
  };
}
