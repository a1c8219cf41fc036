import type { AirLevelReading } from '@/core/air/air-level';
import type { Broadcast } from '@/core/air/broadcast';
import type { StreamCoding } from '@/core/air/station';

export interface FeedRequest {
  /** Both sides of the mix, as the audio thread writes them. */
  ring: SharedArrayBuffer;
  /** Where pieces are sent to. */
  url: string;
  coding: StreamCoding;
  /** Null leaves the loudness as it is. */
  targetLufs: number | null;
  /** Which audio thread counts the samples. */
  session: number;
  nextPiece: number;
}

/** How a feed goes, about twice a second. */
export interface FeedReading {
  /** The newest sample that was heard, by the session's clock; −1 before the first. */
  heardSample: number;
  /** Sound that waits in this browser, and what was dropped here because it got too old, ms. */
  waitingMs: number;
  droppedMs: number;
  level: AirLevelReading;
}

export type FromFeed =
  | { type: 'reading'; reading: FeedReading }
  /** What the server answered to a piece. */
  | { type: 'state'; broadcast: Broadcast }
  /** It is not on the air any more. */
  | { type: 'ended'; reason: string }
  | { type: 'failed'; reason: string };
