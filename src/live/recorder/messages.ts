import type { GapCause } from '@/core/takes/gaps';
import type { LeftOut } from '@/core/takes/pauses';
import type { PlanInForce } from '@/core/takes/plan-log';
import type { RecordedKind } from '@/core/takes/track-kinds';
import type { Problem } from './answer';
import type { KeptTime } from './kept-time';
import type { SampleFormat } from '@/core/formats/wav/sample-format';

export interface RecordedTrack {
  /** Id of the track on the server. */
  id: string;
  /** The source or listener on it. */
  recorded: string;
  channels: 1 | 2;
  format: SampleFormat;
  /** Of a track that was added while the take ran: what the server has to be told of it. */
  late?: { kind: RecordedKind; name: string; /** Its first sample; null until it is known. */ fromSample: number | null; /** The server will not have it. */ refused?: true };
}

/** The audio thread's status board, whose log the recorder reads. */
export interface BoardMemory {
  status: SharedArrayBuffer;
  sources: number;
  listeners: number;
}

/** What the page tells the recorder. It ends by itself when the ring is closed. */
export interface StartRecording {
  type: 'start';
  take: string;
  tracks: RecordedTrack[];
  ring: SharedArrayBuffer;
  board: BoardMemory;
  /** Session clock at the start of the call; null when there was none. */
  clockAtCall: number | null;
  /** Sources that are left out of the take. */
  leftOut: LeftOut[];
}

/** A plan that may come into force; said before the audio thread is given it. At which sample it did, the log says. */
export interface NumberedPlan extends Omit<PlanInForce, 'atSample'> {
  type: 'plan';
  number: number;
}

/** Further tracks: they come with those there are through this ring, once the recorder says that it is ready. */
export interface MoreTracks {
  type: 'more-tracks';
  tracks: RecordedTrack[];
  ring: SharedArrayBuffer;
}

/** A stretch in which a line brought nothing. */
export interface LineGap {
  /** The source whose track holds silence. */
  recorded: string;
  atSample: number;
  /** Null when it lasts to the end of the take. */
  endSample: number | null;
  cause: Extract<GapCause, 'not-in-call' | 'line-lost' | 'device-away' | 'device-late'>;
}

/** What the lines did not bring so far; said whenever it changes, and before the ring is closed. */
export interface LineGaps {
  type: 'line-gaps';
  gaps: LineGap[];
}

/** How a take was when its desk went away. */
export interface KeptSituation {
  tracks: RecordedTrack[];
  lineGaps: LineGap[];
  leftOut: LeftOut[];
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

/** Goes on with the take instead: what comes through the ring says at which sample. */
export interface ContinueKept {
  type: 'continue-kept';
  ring: SharedArrayBuffer;
  board: BoardMemory;
}

/** What stood in the way may be gone: whatever waits is sent again now. */
export interface TryAgain {
  type: 'try-again';
}

export type ToRecorder = TryAgain | StartRecording | NumberedPlan | MoreTracks | LineGaps | RecoverTake | SealKept | ContinueKept;

/** What the recorder tells the page. */
export type FromRecorder =
  /** What comes through the newest ring from now on is kept. */
  | { type: 'ready' }
  /**
   * Frames captured so far, how many of them are on this browser's own disk or beyond (null where
   * there is none), for each track how many from its beginning the server has stored, and why chunks
   * are kept waiting, while they are.
   */
  | { type: 'progress'; capturedFrames: number; keptFrames: number | null; safeFrames: number[]; waiting: Problem | null }
  /** All whole chunks that were kept here are on the server now; the take can be sealed, or gone on with. */
  | ({ type: 'recovered'; lengthSamples: number } & KeptSituation)
  /** These have a track now, and the server knows of it. */
  | { type: 'added'; recorded: string[] }
  /** Something of the take is not as it should be; the recording goes on. */
  | { type: 'trouble'; message: string }
  /** All of it came through the ring: the audio thread is needed no more. What is not on the server yet is sent from here. */
  | { type: 'captured' }
  | { type: 'sealed'; lengthSamples: number; lostSamples: number }
  /** The recording cannot be completed. What the server has stored is safe. */
  | { type: 'failed'; message: string };
