import type { AirState } from '../air/air-state';
import type { Audit } from '@/core/hearing/audit/index';
import type { OnAir } from '@/core/hearing/on-air';
import type { VoicesRead } from '../check/watch-messages';
import type { CheckProgress, OneCheck, SeatAnswers, TestCallProgress } from '../check/check-state';
import type { EchoSeen } from '../echo/echo-state';
import type { NoiseState, StripListening } from '../strip/strip-state';
import type { SourceId } from '@/core/hearing/ids';
import type { LineCheck } from '@/core/linecheck/line-check';
import type { Observation } from '@/core/hearing/observation';
import type { HearingPlan } from '@/core/hearing/plan';
import type { ForWatchers } from '@/core/lines/messages';
import type { DeskKeys } from '@/core/session/desk-actions';
import type { LoopFound } from '@/core/echo/loop-guard';
import type { MidiBinding, MidiMessage, MidiTarget } from '@/core/session/midi-bindings';
import type { TakeMarker } from '@/core/takes/markers';
import type { LeftOut } from '@/core/takes/pauses';
import type { RecordingSettings } from '@/core/takes/recording-settings';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import type { DeskHabits } from '@/core/session/habits';
import type { DeskPad, DeskSeat, SeatInvitation } from '@/core/session/desk-data';
import type { PluggedState } from '../devices/plugged-state';
import type { LineView } from '../lines/line-view';
import type { Condition } from './conditions';
import type { PlanSaving } from './plan-keeper';

/** Where the host's voice comes from, as the desk has it now. */
export type HostVoice =
  | { from: 'microphone'; label: string }
  | { from: 'practice'; reason: string }
  /** It went away, and is taken up again when it is back. */
  | { from: 'lost'; label: string }
  | { from: 'nothing'; reason: string };

export interface RecordingState {
  phase: 'starting' | 'recording' | 'paused' | 'finishing';
  /** Id of the take; empty until it has begun. */
  take: string;
  number: number;
  trackNames: string[];
  /** Sources and listeners that have a track. */
  recorded: string[];
  /** Sources that get a track while the take runs; they have none yet. */
  coming: string[];
  leftOut: LeftOut[];
  /** It stops by itself at this length, samples; null for when the host says so. */
  stopsAt: number | null;
  capturedFrames: number;
  /** Frames on this computer's own disk or beyond; null where nothing can be kept here. */
  keptFrames: number | null;
  /** For each track, frames from its beginning that the server has stored. */
  safeFrames: number[];
  /** Why chunks have to wait, while they do. */
  waiting: string | null;
}

export interface FinishedTake {
  id: string;
  number: number;
  lengthSamples: number;
  lostSamples: number;
}

/** A take that was begun and not sealed. */
export interface OpenTake {
  id: string;
  number: number;
  /** What of it this computer still has: on its way to the server, or there by now. */
  kept?: { phase: 'sending' | 'sent'; lengthSamples: number };
}

/** Shared computer sound, while there is any. */
export interface ShareState {
  /** What is shared, as the browser names it. */
  label: string;
  simulated: boolean;
  /** `checking`: nobody hears it yet; `held`: it contains the call and is kept out of every mix. */
  phase: 'checking' | 'open' | 'held';
  /** The call, found in it. */
  loop: LoopFound | null;
}

/** MIDI controllers at the desk. */
export interface MidiState {
  bindings: MidiBinding[];
  state: 'off' | 'on' | 'missing' | 'refused';
  /** Names of the devices that are heard. */
  inputs: string[];
  /** The simulated controller is on the screen. */
  simulated: boolean;
  /** What the next message will be bound to. */
  learning: MidiTarget | null;
  last: MidiMessage | null;
}

/** All of the state, to read. */
export interface DeskReader {
  getState(): DeskState;
  subscribe(hear: (now: DeskState, before: DeskState) => void): () => void;
}

/** All of the state to read, and one slice of it to write: what the owner of the slice is given. */
export interface Own<Slice> extends DeskReader {
  setState(change: Partial<Slice> | ((now: DeskState) => Partial<Slice>)): void;
}

/** Whether this window is the desk, and what of the server it has. */
export interface PlaceSlice {
  /** `opening`: it is not known yet whether another window is the desk. */
  place: 'opening' | 'desk' | 'watching';
  /** The connection to the server's messages is broken; it is tried again. */
  boxAway: boolean;
  /** The server no longer knows who sits here: nothing is taken until the host signs in again. */
  signedOut: boolean;
  /** What the desk told this window, while it only watches. */
  watched: ForWatchers | null;
}

export interface SeatsSlice {
  seats: DeskSeat[];
  invitations: SeatInvitation[];
}

export interface LinesSlice {
  /** The links and pair lines, by seat. */
  lines: Record<string, LineView>;
}

export interface CallSlice {
  /** `blocked`: the browser wants a press of a button before it lets sound out. */
  call: 'off' | 'starting' | 'running' | 'blocked';
}

export interface SoundStopsSlice {
  /** The browser has stopped the sound of a call that runs. */
  soundStopped: boolean;
}

export interface HostVoiceSlice {
  voice: HostVoice;
  /** Whether the host chose the simulated voice although there may be a microphone. */
  preferPractice: boolean;
}

export interface PlanSlice {
  plan: HearingPlan;
  planSaving: PlanSaving;
  /** Earlier plans to go back to, and later ones to go forward to. */
  past: HearingPlan[];
  future: HearingPlan[];
  /** What was measured about the world outside, newest of each kind. */
  observations: Observation[];
  /** What the audit says of the plan in force. */
  audit: Audit;
}

export interface HandsSlice {
  /** What the hands do over the plan. */
  onAir: OnAir;
  /** When a listening ends by itself, in `performance.now()` time; null while there is none. */
  listeningUntil: number | null;
}

export interface VoicesSlice {
  /** How every voice sounds, by source, while somebody looks. */
  voices: VoicesRead;
}

export interface AnswersSlice {
  /** What people said they hear, by seat. */
  answers: Record<string, SeatAnswers>;
}

export interface CheckSlice {
  /** A line check that is on. */
  check: CheckProgress | null;
  /** Listeners looked at alone since, by listener. */
  oneChecks: Record<string, OneCheck>;
  /** What the newest line check of the episode found. */
  lastCheck: LineCheck | null;
}

export interface TestCallSlice {
  testCall: TestCallProgress | null;
}

export interface EchoesSlice {
  /** What comes back of what somebody is sent, by source. */
  echoes: Record<string, EchoSeen>;
}

export interface CancellingSlice {
  /** Sources whose echo is taken out of the mixes here. */
  cancelling: SourceId[];
}

export interface StripSlice {
  /** Somebody's voice that is listened to, so that its strip can be set for it. */
  stripListening: StripListening | null;
  noise: NoiseState;
}

export interface PadsSlice {
  pads: DeskPad[];
  padLevels: Record<string, number>;
  /** The sound that is listened to first, in the phones alone. */
  cued: string | null;
  /** Presses of pads are heard by the host alone meanwhile. */
  listenFirst: boolean;
}

export interface SettingsSlice {
  keys: DeskKeys;
  soundSettings: SoundSettings;
  recordingSettings: RecordingSettings;
  /** How this desk behaves, and how the show's desks do. */
  habits: DeskHabits;
  showHabits: DeskHabits;
  /** Sources and mixes that the next take leaves out, with the reason. */
  leftOut: Record<string, string>;
}

export interface MarksSlice {
  /** Marks set at this desk, by take. */
  marks: { take: string; marker: TakeMarker }[];
}

export interface ShareSlice {
  share: ShareState | null;
}

export interface MidiSlice {
  midi: MidiState;
}

export interface RecordingSlice {
  recording: RecordingState | null;
  lastTake: FinishedTake | null;
  /** A take left open by an earlier desk. */
  openTake: OpenTake | null;
}

export interface SpaceSlice {
  /** Free space, bytes: in this browser and at the server; null while it is not known. */
  space: { here: number | null; server: number | null };
}

export interface ConditionsSlice {
  /** What went wrong and needs the host, newest last. */
  conditions: Condition[];
}

export interface AirSlice {
  /** Internet radio. */
  air: AirState;
}

export interface PluggedSlice {
  /** Devices of this computer, and what is plugged in where. */
  plugged: PluggedState;
}

/** What a desk knows. Everybody may read all of it; each slice has one owner, and only that owner writes it (see `DeskSession`). */
export interface DeskState
  extends PlaceSlice, SeatsSlice, LinesSlice, CallSlice, SoundStopsSlice, HostVoiceSlice, PlanSlice, HandsSlice, VoicesSlice, AnswersSlice, CheckSlice, TestCallSlice,
    EchoesSlice, CancellingSlice, StripSlice, PadsSlice, SettingsSlice, MarksSlice, ShareSlice, MidiSlice, RecordingSlice, SpaceSlice, ConditionsSlice, AirSlice, PluggedSlice {}
