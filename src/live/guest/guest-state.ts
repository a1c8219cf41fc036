import type { NetworkFound } from '@/core/lines/network';
import type { LevelJudgement } from '@/core/measure/level-judgement';
import type { SweepHeard } from '@/core/measure/sweep';
import type { DirectionReport } from '@/core/lines/line-report';
import { NO_HOME, type HomeState } from './home-state';
import type { Ask, Wish } from '@/core/lines/check-messages';
import type { GuestPhase, GuestScene } from '@/core/lines/messages';

export type GuestMicrophone =
  | { kind: 'none' }
  | { kind: 'asking' }
  | { kind: 'open'; label: string; deviceId: string }
  /** Refused, missing, held by another program or pulled out; the words say which and what to do. */
  | { kind: 'trouble'; words: string };

export interface GuestState {
  phase: GuestPhase;
  name: string;
  /** The page's way to the server. */
  box: 'opening' | 'open' | 'away' | 'elsewhere' | 'ended';
  /** Why nothing more can be done with this link. */
  ended: string | null;
  microphone: GuestMicrophone;
  devices: { deviceId: string; label: string }[];
  judgement: LevelJudgement;
  headphones: { state: 'untested' | 'testing' | 'failed' } | { state: 'tested'; heard: SweepHeard };
  echoCancellation: boolean;
  /** What the guest's network lets through; null before anybody looked. */
  network: NetworkFound | 'trying' | null;
  testCall: 'idle' | 'recording' | 'playing' | 'done' | 'failed';
  /** The guest's own voice over the whole line: asked for, running since (`performance.now()` time), or not possible now. */
  wholeLine: 'asked' | 'not-now' | { beganAt: number } | null;
  muted: boolean;
  /** How loud the call is played here, 0 to 1. */
  volume: number;
  /** The browser wants a press of a button before it lets sound out. */
  blocked: boolean;
  /** The browser keeps the sound of this page still: no level is seen, nothing is tested and nothing recorded here. */
  soundStopped: boolean;
  line: 'none' | 'connecting' | 'connected' | 'lost';
  scene: GuestScene | null;
  report: DirectionReport | null;
  roundTripMs: number | null;
  /** What is recorded at this end. */
  home: HomeState;
  /** The host asks what is heard here. */
  ask: Ask | null;
  /** The host wishes that nothing comes back from here. */
  wish: Wish | null;
  /** The desk checks the lines: from when to when, in `performance.now()` time. */
  check: { beginsAt: number; endsAt: number } | null;
  /** Seats a producer talks to now. */
  talkingTo: string[];
}

export const initialGuestState = (name: string): GuestState => ({
  phase: 'opened',
  name,
  box: 'opening',
  ended: null,
  microphone: { kind: 'none' },
  devices: [],
  judgement: 'nothing',
  headphones: { state: 'untested' },
  echoCancellation: false,
  network: null,
  testCall: 'idle',
  wholeLine: null,
  muted: false,
  volume: 1,
  blocked: false,
  soundStopped: false,
  line: 'none',
  scene: null,
  report: null,
  roundTripMs: null,
  home: NO_HOME,
  check: null,
  ask: null,
  wish: null,
  talkingTo: [],
});
