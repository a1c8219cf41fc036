import type { LineState } from './line-state';

/** What is known of a pair line at one moment. */
export interface PairFacts {
  /** How far each end is. */
  input: EndState;
  output: EndState;
  /** Both ends are one cable: it is kept shut. */
  looped: boolean;
  /** Whether anything was ever heard, and whether samples come now. */
  everHeard: boolean;
  flowing: boolean;
  waiting: boolean;
  /** Whether the line belongs to a call that runs. */
  running: boolean;
}

export type EndState = 'none' | 'opening' | 'open' | 'away' | 'blocked' | 'refused' | 'closed';

/** The state of a pair line, the most urgent first. */
export function pairStateOf({ input, output, looped, everHeard, flowing, waiting, running }: PairFacts): LineState {
  if (looped) return 'looped';
  if (input === 'none' && output === 'none') return 'unplugged';
  if (input === 'none' || output === 'none') return 'one-end';
  if (input === 'away' || output === 'away') return 'away';
  if (input === 'refused' || output === 'refused') return 'refused';
  if (!running) return 'plugged';
  if (input === 'open' && everHeard && !flowing) return 'lost';
  if (!everHeard) return 'silent';
  return waiting ? 'waiting' : 'live';
}
