import type { TrackKind } from '../takes/track-kinds';
import type { GapCause } from '../takes/gaps';
import type { TakeMarker } from '../takes/markers';
import type { LeftOut, TakePause } from '../takes/pauses';
import type { TakePlay } from '../takes/plays';
import type { LineCheck } from '../linecheck/line-check';
import type { MixSettings } from '../tasks/task';
import type { SampleFormat } from '../formats/wav/sample-format';

/** What a show finishes its mixes with. */
export interface MixChoices {
  show: string;
  settings: MixSettings;
  /** The library: what can stand at the ends of a mix. */
  sounds: { id: string; name: string }[];
}

/** A take as its page shows it. */
export interface TakeData {
  id: string;
  number: number;
  /** As the host calls it; empty until they do. */
  name: string;
  note: string;
  /** When it was put into the bin (ISO 8601); null while it is kept. */
  binnedAt: string | null;
  state: 'recording' | 'sealed';
  /** ISO 8601. */
  startedAt: string;
  lengthSamples: number;
  tracks: TakeTrack[];
  gaps: { track: string; atSample: number; lengthSamples: number; cause: GapCause }[];
  plays: TakePlay[];
  markers: TakeMarker[];
  pauses: TakePause[];
  leftOut: LeftOut[];
  /** When the plan changed, and in how many crosspoints. */
  planChanges: { atSample: number; words: string }[];
  /** What guests' own browsers recorded. */
  homes: HomeRecording[];
  /** The line check before it; null where there was none. */
  lineCheck: LineCheck | null;
  /** Who agreed to be recorded, and when (ISO 8601). */
  mix: MixChoices;
  consents: { seat: string; name: string; wording: string; agreedAt: string }[];
}

/** One recording of a guest's microphone at their own end. */
export interface HomeRecording {
  id: string;
  seat: string;
  /** The line track it belongs beside. */
  track: string;
  /** What the guest's browser has kept, and what of it has arrived; samples by the guest's clock. */
  keptSamples: number;
  arrivedSamples: number;
  /** All of it is here. */
  complete: boolean;
  /** Whether the guest's page spoke to the server within the last minute. */
  sending: boolean;
}

export interface TakeTrack {
  id: string;
  kind: TrackKind;
  name: string;
  channels: 1 | 2;
  format: SampleFormat;
  /** Largest sample, dBFS; null for silence. */
  peakDb: number | null;
  /** Over the whole track, dBFS; null for silence. */
  rmsDb: number | null;
  /** The track it was made from; null for what was recorded. */
  derivedFrom: string | null;
  /** What was measured when it was made. */
  made: Record<string, unknown> | null;
}
