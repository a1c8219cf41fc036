import { z } from '../zod';

/** One playing of a sound during a take. */
export interface TakePlay {
  /** The sound in the library; null when it is no longer there. */
  sound: string | null;
  name: string;
  kind: string;
  /** Name of the file it came from. */
  fileName: string;
  /** In samples of the take. */
  atSample: number;
  lengthSamples: number;
  /** Gain it was given, dB. */
  gainDb: number;
  /** As it left its player, dBFS; null for silence. */
  peakDb: number | null;
  rmsDb: number | null;
}

const samples = z.number().int().nonnegative();
const db = z.number().min(-400).max(100);

/** A playing as the desk reports it; names are looked up in the library. */
export const reportedPlaySchema = z.strictObject({
  /** Counts the playings of a take from 0, so that a report sent twice is kept once. */
  place: samples.max(100_000),
  sound: z.uuid(),
  atSample: samples,
  lengthSamples: samples.min(1),
  gainDb: db,
  peakDb: db.nullable(),
  rmsDb: db.nullable(),
});
export type ReportedPlay = z.infer<typeof reportedPlaySchema>;
