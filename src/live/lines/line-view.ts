import type { LineReport } from '@/core/lines/line-report';
import type { LineState } from '@/core/lines/line-state';
import type { GuestStatus } from '@/core/lines/messages';
import type { DeskLine } from './desk-line';

/** A link as the screens show it. */
export interface LineView {
  state: LineState;
  /** When the state began, `Date.now()` time. */
  sinceMs: number;
  /** Whether a page is open. */
  here: boolean;
  muted: boolean;
  status: GuestStatus | null;
  report: LineReport | null;
  /** The last minutes, newest last. */
  history: { atMs: number; report: LineReport }[];
}

/** Who comes by devices of this computer: no page, and so no status. */
export const pairView = (state: LineState, sinceMs: number, report: LineReport | null, history: LineView['history']): LineView => ({
  state,
  sinceMs,
  here: state !== 'unplugged',
  muted: false,
  status: null,
  report,
  history,
});

export const viewOf = (line: DeskLine): LineView => ({
  state: line.line.state,
  sinceMs: line.line.sinceMs,
  here: line.line.window !== null,
  muted: line.muted,
  status: line.status,
  report: line.report,
  history: line.history,
});
