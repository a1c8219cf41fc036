import type { DeskKeys } from './desk-actions';
import type { HearingPlan, LineKind, SeatRole } from '../hearing/plan';

/** Everything a desk needs to know of its episode before it opens. */
export interface DeskData {
  episode: { id: string; number: number; title: string; show: string; showId: string };
  seats: DeskSeat[];
  pads: DeskPad[];
  plan: HearingPlan;
  planVersion: number;
  keys: DeskKeys;
  /** Whether a call was running when the page was loaded. */
  callRunning: boolean;
  /** A take that was begun and never sealed. */
  openTake: { id: string; number: number } | null;
}

export interface DeskSeat {
  id: string;
  role: SeatRole;
  line: LineKind;
  name: string;
  fullName: string;
  about: string;
  practice: { voice: string; loudspeakers: boolean; network: 'good' | 'weak' } | null;
}

export interface DeskPad {
  sound: string;
  name: string;
  player: string;
  key: string;
  loops: boolean;
  levelDb: number;
  lengthSamples: number;
}
