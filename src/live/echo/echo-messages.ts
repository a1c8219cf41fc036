import type { EchoReading } from '@/core/echo/echo-watch';

/** A source that is watched for what its owner is sent. */
export interface WatchedPair {
  source: string;
  /** What comes sooner is no echo there, ms; null where the line is not known. */
  leastMs: number | null;
}

/** Three channels a pair: the source, and both sides of what is sent. */
export type ToEchoWorker = { type: 'watch'; ring: SharedArrayBuffer; pairs: WatchedPair[] } | { type: 'least'; pairs: WatchedPair[] };

/** Whenever a pair was looked at. */
export interface FromEchoWorker {
  source: string;
  reading: EchoReading;
}
