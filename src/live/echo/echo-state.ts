/** What comes back by one source of what its owner is sent. */
export interface EchoSeen {
  delayMs: number;
  /** Corrected for what the line's coder takes, dB; null while not enough was heard. */
  levelDb: number | null;
  certainty: number;
  /** `Date.now()` of when it was first seen. */
  sinceMs: number;
  /** Level by time, newest last: some minutes. */
  history: { atMs: number; levelDb: number }[];
}

/** Over which it is said whether it gets louder, s, and from which difference on, dB. */
const TREND_SECONDS = 20;
const TREND_DB = 3;

/** Whether an echo gets louder or quieter. */
export function trendOf({ history }: EchoSeen): 'louder' | 'quieter' | 'steady' {
  const newest = history.at(-1);
  const before = newest && history.find(({ atMs }) => atMs >= newest.atMs - 1000 * TREND_SECONDS);
  if (!newest || !before || Math.abs(newest.levelDb - before.levelDb) < TREND_DB) return 'steady';
  return newest.levelDb > before.levelDb ? 'louder' : 'quieter';
}
