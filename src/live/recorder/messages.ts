import type { HearingPlan } from '@/core/hearing/plan';
import type { KeptTime } from './kept-files';
import type { TakePause } from '@/core/takes/pauses';
import type { SampleFormat } from '@/core/formats/wav/sample-format';

export interface RecordedTrack {
  /** Id of the track on the server. */
  id: string;
  /** The source or listener on it. */
  recorded: string;
  channels: 1 | 2;
  format: SampleFormat;
}

/** What the page tells the recorder. It ends by itself when the ring is closed. */
export interface StartRecording {
  type: 'start';
  take: string;
  tracks: RecordedTrack[];
  ring: SharedArrayBuffer;
  /** Session clock at the start of the call; null when there was none. */
  clockAtCall: number | null;
}

/** Another plan is in force from a sample of the take on. */
export interface PlanChanged {
  type: 'plan-changed';
  atSample: number;
  plan: HearingPlan;
}

/** A stretch in which a line brought nothing. */
export interface LineGap {
  /** The source whose track holds silence. */
  recorded: string;
  atSample: number;
  /** Null when it lasts to the end of the take. */
  endSample: number | null;
  cause: 'not-in-call' | 'line-lost';
}

/** What the lines did not bring so far; said whenever it changes, and before the ring is closed. */
export interface LineGaps {
  type: 'line-gaps';
  gaps: LineGap[];
}

/** Where the take was paused so far. */
export interface TakePaused {
  type: 'paused';
  pauses: TakePause[];
}

/** How a take was when its desk went away. */
export interface KeptSituation {
  tracks: RecordedTrack[];
  lineGaps: LineGap[];
  pauses: TakePause[];
  /** Null where it was never written. */
  time: KeptTime | null;
}

/** Sends what an earlier recorder left on this browser's disk; then waits for {@link SealKept} or {@link ContinueKept}. */
export interface RecoverTake {
  type: 'recover';
  take: string;
}

export interface SealKept {
  type: 'seal-kept';
}

/** Goes on with the take instead: what comes through the ring follows from this sample on. */
export interface ContinueKept {
  type: 'continue-kept';
  ring: SharedArrayBuffer;
  atSample: number;
}

/** What the recorder tells the page. */
export type FromRecorder =
  /** What is captured from now on is kept. */
  | { type: 'ready' }
  /**
   * Frames captured so far, how many of them are on this browser's own disk or beyond (null where
   * there is none), for each track how many from its beginning the server has stored, and why chunks
   * are kept waiting, while they are.
   */
  | { type: 'progress'; capturedFrames: number; keptFrames: number | null; safeFrames: number[]; waiting: string | null }
  /** All whole chunks that were kept here are on the server now; the take can be sealed, or gone on with. */
  | ({ type: 'recovered'; lengthSamples: number } & KeptSituation)
  | { type: 'sealed'; lengthSamples: number; lostSamples: number }
  /** The recording cannot be completed. What the server has stored is safe. */
  | { type: 'failed'; message: string };
