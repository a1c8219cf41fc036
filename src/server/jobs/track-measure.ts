import type pg from 'pg';
import { createTrackChecker, type TrackCheck } from '@/core/checks/track-check';
import { BYTES_PER_SAMPLE, decodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES, chunkCount } from '@/core/takes/chunks';
import { readChunks } from '../takes/chunk-store';
import type { TrackRow } from '../takes/queries';
import { READ_AT_ONCE, wholeChunks } from '../takes/read-track';

/** What is known of a track by itself. */
export interface MeasuredTrack {
  measured: TrackCheck;
  /** Mean square of each tenth of a second. */
  steps: readonly number[];
}

/** One track that is measured a chunk at a time, as far as it has come. The same sound gives the same result, whenever it came. */
export interface TrackMeasure {
  readonly track: TrackRow;
  /** Measures what has come whole and in order since the last time. @returns whether there was any */
  catchUp(afterEach: () => Promise<void>): Promise<boolean>;
  /** Measures all that is left of a sealed take; silence where nothing came. */
  finish(lengthSamples: number, afterEach: (share: number) => Promise<void>): Promise<MeasuredTrack>;
}

export function createTrackMeasure(pool: pg.Pool, track: TrackRow): TrackMeasure {
  const checker = createTrackChecker(track.channels);
  const chunkBytes = CHUNK_FRAMES * track.channels * BYTES_PER_SAMPLE[track.format];
  /** Before a track that was added late nothing can come. */
  const silentChunks = Math.floor(track.from_sample / CHUNK_FRAMES);
  /** The chunk that is measured next. */
  let next = 0;
  const push = (samples: Uint8Array): void => {
    checker.push(decodeSamples(track.format, track.channels, samples));
    next++;
  };

  return {
    track,
    async catchUp(afterEach) {
      const began = next;
      for (let goesOn = true; goesOn; ) {
        const silence = next < silentChunks ? new Uint8Array(chunkBytes) : null;
        const end = silence ? Math.min(silentChunks, next + READ_AT_ONCE) : next + READ_AT_ONCE;
        const there = silence ? null : await readChunks(pool, track.id, next, end);
        while (next < end) {
          const samples = silence ?? there?.get(next);
          // One that is shorter may be the last of its take: only its seal says so.
          if (samples?.length !== chunkBytes) break;
          push(samples);
          await afterEach();
        }
        goesOn = next === end;
      }
      return next > began;
    },
    async finish(lengthSamples, afterEach) {
      const count = chunkCount(lengthSamples);
      while (next < count) {
        for (const samples of await wholeChunks(pool, track, lengthSamples, next, next + READ_AT_ONCE)) {
          push(samples);
          await afterEach(next / count);
        }
      }
      return { measured: checker.result(), steps: checker.steps() };
    },
  };
}
