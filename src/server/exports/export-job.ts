import type pg from 'pg';
import type { TakeCheck } from '@/core/checks/take-check';
import type { ExportParams } from '@/core/tasks/task';
import type { Work } from '../jobs/work';
import type { TakeMarker } from '@/core/takes/markers';
import { newestCheck } from '../jobs/tasks';
import { listMarkers } from '../takes/markers';
import { listTracks, type TakeRow, type TrackRow } from '../takes/queries';
import { namingOf, type TakeNaming } from './naming';
import type { SoundSource } from './sound-source';

/** The part of the time that keeping the finished file takes, roughly; the rest is making it. */
export const STORING_SHARE = 0.15;

/** What files of a take say of it. */
export interface TakeFacts {
  pool: pg.Pool;
  row: TakeRow;
  lengthSamples: number;
  naming: TakeNaming;
  /** The tracks that were asked for; all where none was named. */
  tracks: TrackRow[];
  check: TakeCheck | null;
  markers: TakeMarker[];
}

/** @param wanted tracks by id; all where none is named */
export async function takeFacts(pool: pg.Pool, row: TakeRow, lengthSamples: number, wanted: readonly string[]): Promise<TakeFacts> {
  const all = await listTracks(pool, row.id);
  return {
    pool,
    row,
    lengthSamples,
    naming: await namingOf(pool, row),
    tracks: wanted.length > 0 ? all.filter((track) => wanted.includes(track.id)) : all,
    check: (await newestCheck(pool, row.id)) as TakeCheck | null,
    markers: await listMarkers(pool, row.id),
  };
}

/** One export and all that is known of its take. */
export interface ExportJob extends Work, TakeFacts {
  params: ExportParams;
  /** For files on their way; removed with the job. */
  folder: string;
}

/** A finished file. */
export interface MadeFile {
  path: string;
  name: string;
  measured?: ExportResult['measured'];
}

/** What came of an export. */
export interface ExportResult {
  name: string;
  bytes: number;
  /** Of a mix, as it was measured before it was encoded. */
  measured?: { integratedLufs: number | null; truePeakDb: number | null; gainDb: number };
}

/** The same sound, saying how much of it has gone through. */
export function watched(source: SoundSource, onProgress: (share: number) => Promise<void>): SoundSource {
  return {
    ...source,
    async *pieces() {
      let done = 0;
      for await (const piece of source.pieces()) {
        yield piece;
        done += piece[0].length;
        await onProgress(Math.min(1, done / source.frames));
      }
    },
  };
}
