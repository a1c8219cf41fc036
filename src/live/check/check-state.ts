import type { WayBack } from '@/core/linecheck/line-check';
import type { StageName } from '@/core/linecheck/schedule';
import type { AskedAbout } from '@/core/lines/check-messages';

/** What stands on the screen while a line check is on. */
export interface CheckProgress {
  /** In `performance.now()` time. */
  beginsAt: number;
  endsAt: number;
  phase: 'count-down' | StageName | 'repeat' | 'judging' | 'one';
}

/** A test call that runs. */
export interface TestCallProgress {
  seat: string;
  /** Who hears it: the host what a caller is sent, or a guest their own voice. */
  whose: 'host' | 'guest';
  intoTheCall: boolean;
  /** In `performance.now()` time. */
  beganAt: number;
}

/** One listener looked at alone, while the call went on: whether what they hear comes back. */
export interface OneCheck {
  /** ISO 8601. */
  at: string;
  ways: WayBack[];
  /** At the listener's own microphone: what is weaker would not have been found, dB. */
  floorDb: number;
}

/** What somebody said they hear, as far as they were asked. */
export interface SeatAnswers {
  /** On their page, and not by mouth: they have not answered everything yet. */
  asked: boolean;
  says: Partial<Record<AskedAbout, boolean>>;
}
