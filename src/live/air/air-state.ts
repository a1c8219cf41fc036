import type { Broadcast } from '@/core/air/broadcast';
import { PIECE_SECONDS } from '@/core/air/packets';
import type { Station } from '@/core/air/station';
import type { FeedReading } from './air-messages';

/** Everything a desk knows of internet radio. */
export interface AirState {
  /** The stations of the show. */
  stations: Station[];
  /** What is on the air from this episode, and what was last, by station. */
  broadcasts: Record<string, Broadcast>;
  /** How the desk's end goes, by broadcast; and how long each stream takes from here to its server, ms. */
  readings: Record<string, FeedReading>;
  delaysMs: Record<string, number | null>;
  /** What was typed in the place of the title that follows by itself; null while that does. */
  typed: string | null;
  /** What listeners read next, or now. */
  title: string;
  /** A station whose stream is played in the phones. */
  heard: { broadcast: string; delayMs: number | null; trouble: string } | null;
}

/** What of a broadcast stays as it is while all goes well. */
export type Standing = Pick<Broadcast, 'id' | 'state' | 'reason' | 'onSince' | 'endedAt' | 'ending'>;

export const isOn = <One extends Pick<Broadcast, 'endedAt' | 'ending'>>(broadcast: One | undefined): broadcast is One => broadcast !== undefined && broadcast.endedAt === null && !broadcast.ending;

/** Whether listeners get nothing of it. */
export const isLost = (broadcast: Pick<Broadcast, 'endedAt' | 'ending' | 'state'> | undefined): boolean => isOn(broadcast) && (broadcast.state === 'away' || broadcast.state === 'silent');

/**
 * How long after it was heard here sound was given to the server, ms, at most: the first of a piece waits for its last. Null before
 * the first, or while another desk's was.
 * @param readBeforeMs how long before the news of the server the reading came
 */
export function delayOf({ sent }: Broadcast, reading: FeedReading | undefined, session: number, readBeforeMs: number): number | null {
  if (!sent || !reading || reading.heardSample < 0 || sent.session !== session) return null;
  return Math.max(0, (reading.heardSample - sent.sample) / 48 + readBeforeMs - sent.agoMs) + 1000 * PIECE_SECONDS;
}
