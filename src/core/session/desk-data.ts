import type { Station } from '../air/station';
import type { LineCheck } from '../linecheck/line-check';
import type { DeskKeys } from './desk-actions';
import type { ShowRole } from '../access/rights';
import type { HearingPlan, LineKind, Reflexive, SeatRole } from '../hearing/plan';
import type { LineSettings } from '../lines/line-settings';
import type { BoardPad } from '../sounds/board';
import type { SoundEdit } from '../sounds/sound-edit';
import type { SoundKind } from '../sounds/sound-kind';
import type { SoundSettings } from '../sounds/sound-settings';
import type { StripSettings } from '../strip/settings';
import type { RecordingSettings } from '../takes/recording-settings';
import type { DeskHabits } from './habits';
import type { MidiBinding } from './midi-bindings';

/** Everything a desk needs to know of its episode before it opens. */
export interface DeskData {
  episode: DeskEpisode;
  /** What whoever looks at the desk may do in its show. */
  role: ShowRole;
  seats: DeskSeat[];
  invitations: SeatInvitation[];
  pads: DeskPad[];
  plan: HearingPlan;
  planVersion: number;
  keys: DeskKeys;
  midi: MidiBinding[];
  soundSettings: SoundSettings;
  recordingSettings: RecordingSettings;
  /** Where the show can be sent to on internet radio. */
  stations: Station[];
  /** How the show's desks behave, and what this episode does otherwise. */
  showHabits: DeskHabits;
  ownHabits: Partial<DeskHabits>;
  /** Whether a call was running when the page was loaded. */
  callRunning: boolean;
  /** What the newest line check found; null where there was none. */
  lastCheck: LineCheck | null;
  /** How many takes there were when the page was loaded. */
  takes: number;
  /** A take that was begun and never sealed. */
  openTake: { id: string; number: number } | null;
}

export interface DeskEpisode {
  id: string;
  number: number;
  title: string;
  show: string;
  showId: string;
  /** The show's own (IANA); null for wherever one sits. */
  timeZone: string | null;
  /** ISO 8601; null while no date is set. */
  plannedAt: string | null;
  plannedMinutes: number;
}

/** A seat's link that lets somebody in. The link itself is shown only once. */
export interface SeatInvitation {
  seat: string;
  /** ISO 8601. */
  expiresAt: string;
  openedAt: string | null;
}

export interface DeskSeat {
  id: string;
  role: SeatRole;
  line: LineKind;
  name: string;
  fullName: string;
  about: string;
  reflexive: Reflexive;
  /** Everybody on this line, where it is more than one. */
  people: string[];
  lineSettings: LineSettings;
  practice: { voice: string; loudspeakers: boolean; network: 'good' | 'weak' } | null;
  /** What was done to their voice in the show’s newest plan; null where nothing was kept. */
  strip: StripSettings | null;
}

export interface DeskPad extends BoardPad {
  name: string;
  kind: SoundKind;
  /** Who is named when it plays; may be empty. */
  credit: string;
  /** The sound's gain from the library, dB: what brings it to the level of its kind. */
  gainDb: number;
  edit: SoundEdit;
}

/** How long a pad plays, samples; once round for a loop. */
export const padSamples = ({ edit }: Pick<DeskPad, 'edit'>): number => edit.outSample - edit.inSample;
