import type { Stretch } from '../takes/who-speaks';
import type { TrackCheck } from './track-check';

/** What was measured of a whole take. Tracks go by their ids. */
export interface TakeCheck {
  tracks: ({
    track: string;
    storedSamples: number;
    /** Of a voice: where its owner speaks; absent from checks that were made before it was measured. */
    speech?: readonly Stretch[];
  } & TrackCheck)[];
  isolation: TrackIsolation[];
}

/** One track found in another, or not. */
export interface TrackIsolation {
  source: string;
  target: string;
  verdict: 'bleeds' | 'clean' | 'unknown' | 'not-measurable';
  gainDb: number | null;
  delayMs: number | null;
  atSample: number | null;
}
