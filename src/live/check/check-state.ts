import type { StageName } from '@/core/linecheck/schedule';
import type { AskedAbout } from '@/core/lines/check-messages';

/** What stands on the screen while a line check is on. */
export interface CheckProgress {
  /** In `performance.now()` time. */
  beginsAt: number;
  endsAt: number;
  phase: 'count-down' | StageName | 'judging';
}

/** What somebody said they hear, as far as they were asked. */
export interface SeatAnswers {
  /** On their page, and not by mouth: they have not answered everything yet. */
  asked: boolean;
  says: Partial<Record<AskedAbout, boolean>>;
}
