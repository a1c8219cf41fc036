import type { ListenerId } from '@/core/hearing/ids';
import type { HearingPlan } from '@/core/hearing/plan';
import type { DeskData } from '@/core/session/desk-data';
import type { PlanSaving } from './plan-keeper';

/** Where the host's voice comes from, as the desk has it now. */
export type HostVoice =
  | { from: 'microphone'; label: string }
  | { from: 'practice'; reason: string }
  | { from: 'nothing' };

export interface RecordingState {
  phase: 'starting' | 'recording' | 'finishing';
  number: number;
  trackNames: string[];
  capturedFrames: number;
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

export interface DeskState {
  /** `blocked`: the browser wants a press of a button before it lets sound out. */
  call: 'off' | 'starting' | 'running' | 'blocked';
  voice: HostVoice;
  /** Whether the host chose the simulated voice although there may be a microphone. */
  preferPractice: boolean;
  plan: HearingPlan;
  planSaving: PlanSaving;
  /** The listener whose mix the phones carry; null for the host's own. */
  hearAs: ListenerId | null;
  padLevels: Record<string, number>;
  recording: RecordingState | null;
  lastTake: FinishedTake | null;
  /** A take left open by an earlier desk. */
  openTake: { id: string; number: number } | null;
  /** Whether the program and the returns are recorded beside the sources. */
  recordMixes: boolean;
  /** What went wrong and needs the host, newest last. */
  troubles: string[];
}

export function initialDeskState(data: DeskData): DeskState {
  return {
    call: 'off',
    voice: { from: 'nothing' },
    preferPractice: false,
    plan: data.plan,
    planSaving: 'saved',
    hearAs: null,
    padLevels: Object.fromEntries(data.pads.map(({ sound, levelDb }) => [sound, levelDb])),
    recording: null,
    lastTake: null,
    openTake: data.openTake,
    recordMixes: false,
    troubles: [],
  };
}
