import { z } from '../zod';

/**
 * How far a stream is: `waiting` for sound or for the sender, `connecting`, `on` the air, `away` while the server is lost and
 * tried again, `silent` while the desk is lost and the listeners are sent silence, `ended`.
 */
export const BROADCAST_STATES = ['waiting', 'connecting', 'on', 'silent', 'away', 'ended'] as const;
export type BroadcastState = (typeof BROADCAST_STATES)[number];

/** One stretch on the air of one station, as it is now. */
export interface Broadcast {
  id: string;
  /** Null for one that was removed since. */
  station: string | null;
  /** The station's name at that time. */
  name: string;
  /** ISO 8601. */
  startedAt: string;
  endedAt: string | null;
  /** Since when the server takes the stream without a break; null while it does not. ISO 8601. */
  onSince: string | null;
  /** Its end was asked for. */
  ending: boolean;
  state: BroadcastState;
  /** Why it is not on the air, or why it ended; empty where all is well. */
  reason: string;
  /** Bytes the server was sent. */
  bytes: number;
  reconnections: number;
  /** Sound that was too old to be sent, and silence sent in the place of sound, ms. */
  droppedMs: number;
  silenceMs: number;
  /** Sound that has come from the desk and is not sent yet, ms. */
  bufferedMs: number;
  /** The next piece that is wanted of the desk. */
  nextPiece: number;
  /** Up to which sample of which audio thread it was sent, and how long ago; null before the first. */
  sent: { session: number; sample: number; agoMs: number } | null;
  /** What the listeners read now. */
  title: string;
}

/** Whole packets of one stream, as a desk sends them. */
export const pieceQuery = z.object({
  /** Counted from 0 over the whole broadcast. */
  number: z.coerce.number().int().min(0).max(1e8),
  /** Which audio thread counted the samples: they begin anew with each. */
  session: z.coerce.number().int().min(0).max(2 ** 31),
  from: z.coerce.number().int().min(0).max(1e13),
  samples: z.coerce.number().int().min(1).max(480_000),
  /** How long ago its last sample was heard when this was sent, ms. */
  lateMs: z.coerce.number().min(0).max(3_600_000),
});
export type PieceFacts = z.infer<typeof pieceQuery>;

/** A whole piece: ten seconds at the highest rate, with room. */
export const MOST_PIECE_BYTES = 500_000;

export const TITLE_ORIGINS = ['sound', 'episode', 'typed'] as const;

/** What listeners read from a sample on. */
export const titleSchema = z.strictObject({
  text: z.string().trim().max(250).transform((text) => text.replace(/[\p{Cc}\p{Cf}]+/gu, ' ')),
  by: z.enum(TITLE_ORIGINS),
  session: z.number().int().min(0).max(2 ** 31),
  sample: z.number().int().min(0).max(1e13),
});
export type AirTitle = z.infer<typeof titleSchema>;

/** A title as it was on the air. */
export interface SentTitle {
  text: string;
  by: AirTitle['by'];
  /** ISO 8601: when it was meant, and when the server took it; null while it did not. */
  saidAt: string;
  sentAt: string | null;
}
