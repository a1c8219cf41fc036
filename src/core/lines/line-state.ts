import type { GuestPhase } from './messages';

/** The states of a line: of a link in the order a guest goes through them, then those that only a pair of devices has. */
export const LINE_STATES = ['none', 'invited', 'opened', 'checking', 'waiting', 'live', 'lost', 'back', 'left', 'unplugged', 'one-end', 'plugged', 'silent', 'away', 'refused', 'looped'] as const;
export type LineState = (typeof LINE_STATES)[number];

/** What the host reads. */
export const LINE_STATE_WORDS: Record<LineState, string> = Object.freeze({
  none: 'no link yet',
  invited: 'invited, not opened',
  opened: 'has opened the link',
  checking: 'checking their sound',
  waiting: 'waiting to be brought up',
  live: 'live',
  lost: 'connection lost',
  back: 'back after a loss',
  left: 'has left',
  unplugged: 'no devices chosen',
  'one-end': 'one end is missing',
  plugged: 'devices are there',
  silent: 'silent so far',
  away: 'device away',
  refused: 'device cannot be opened',
  looped: 'kept shut: both ends are one cable',
});

/** What is known of a link; `sinceMs` is the clock when its state began. */
export interface Line {
  state: LineState;
  sinceMs: number;
  invited: boolean;
  /** The window the guest has open; null for none. */
  window: string | null;
  phase: GuestPhase | null;
  /** Whether sound arrives now, did and stopped, or never did. */
  media: 'never' | 'flowing' | 'stopped';
  admitted: boolean;
  /** When sound came back after a loss; null when none was lost lately. */
  backAtMs: number | null;
}

export type LineEvent =
  | { type: 'invitation'; invited: boolean }
  | { type: 'window'; window: string | null }
  | { type: 'phase'; phase: GuestPhase }
  | { type: 'media'; flowing: boolean }
  | { type: 'admitted'; admitted: boolean }
  /** The desk ended the connection; the guest is still there. */
  | { type: 'hung-up' }
  | { type: 'tick' };

/** How long a line is called back before it is called live again. */
const BACK_MS = 10_000;

export const newLine = (invited: boolean, admitted: boolean, nowMs: number): Line => {
  const line: Line = { state: 'none', sinceMs: nowMs, invited, window: null, phase: null, media: 'never', admitted, backAtMs: null };
  return { ...line, state: stateOf(line, nowMs) };
};

/** The line after an event. The clock of its state goes on as long as the state stays. */
export function lineAfter(line: Line, event: LineEvent, nowMs: number): Line {
  const next = applied(line, event, nowMs);
  const state = stateOf(next, nowMs);
  if (state === line.state && sameFacts(line, next)) return line;
  return { ...next, state, sinceMs: state === line.state ? line.sinceMs : nowMs };
}

function applied(line: Line, event: LineEvent, nowMs: number): Line {
  switch (event.type) {
    case 'invitation':
      return { ...line, invited: event.invited };
    case 'window': {
      // Whoever opens the page again after leaving starts anew.
      const again = event.window !== null && line.phase === 'left';
      return { ...line, window: event.window, phase: again ? 'opened' : (line.phase ?? (event.window === null ? null : 'opened')), media: again ? 'never' : line.media };
    }
    case 'phase':
      return { ...line, phase: event.phase, media: event.phase === 'left' ? 'never' : line.media, backAtMs: event.phase === 'left' ? null : line.backAtMs };
    case 'media': {
      if (event.flowing) return { ...line, media: 'flowing', backAtMs: line.media === 'stopped' ? nowMs : line.backAtMs };
      return { ...line, media: line.media === 'never' ? 'never' : 'stopped' };
    }
    case 'hung-up':
      return { ...line, media: 'never', backAtMs: null };
    case 'admitted':
      return { ...line, admitted: event.admitted };
    case 'tick':
      return line.backAtMs !== null && nowMs - line.backAtMs >= BACK_MS ? { ...line, backAtMs: null } : line;
  }
}

function stateOf(line: Line, nowMs: number): LineState {
  const { phase, window, media, admitted, backAtMs, invited } = line;
  if (phase === 'left') return 'left';
  if (media === 'flowing') {
    if (!admitted) return 'waiting';
    return backAtMs !== null && nowMs - backAtMs < BACK_MS ? 'back' : 'live';
  }
  if (media === 'stopped') return 'lost';
  if (window === null) return phase === null ? (invited ? 'invited' : 'none') : 'left';
  if (phase === 'checking') return 'checking';
  return phase === 'ready' ? 'waiting' : 'opened';
}

const sameFacts = (a: Line, b: Line): boolean =>
  a.invited === b.invited && a.window === b.window && a.phase === b.phase && a.media === b.media && a.admitted === b.admitted && a.backAtMs === b.backAtMs;
