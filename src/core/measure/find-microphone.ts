import { powerToDb } from '../dsp/decibels';

/** What one input took while somebody spoke. */
export interface InputTrial {
  key: string;
  /** Mean square of each tenth of a second. */
  steps: readonly number[];
}

/** How well an input hears whoever spoke. */
export interface InputHeard {
  key: string;
  /** The louder tenth of it, dBFS; null for digital silence. */
  speechDb: number | null;
  /** How far that stands above its own quiet, dB. */
  aboveRoomDb: number;
  hears: boolean;
}

/** Speech stands so far above the room, or it was not heard. */
const HEARD_ABOVE_DB = 9;
const HEARD_DB = -58;
/**
 * How much a louder voice counts beside one that stands further above the room. A few seconds of words know the quiet of a room
 * to some decibels only: one that comes in far quieter must stand clearly further above it.
 */
const LOUDNESS_COUNTS = 0.25;
/** Stands for digital silence. */
const SILENCE_DB = -200;

const at = (sorted: readonly number[], share: number): number => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];

/**
 * Which input hears somebody best: the one in which their words stand furthest above the room; where several do about as far, the loudest.
 * @returns best first
 */
export function rankInputs(trials: readonly InputTrial[]): InputHeard[] {
  const begun = latestBegin(trials.map(({ steps }) => steps));
  const worth = ({ aboveRoomDb, speechDb }: InputHeard): number => aboveRoomDb + LOUDNESS_COUNTS * (speechDb ?? SILENCE_DB);
  const heard = trials.map(({ key, steps }) => judgeInput({ key, steps: steps.slice(begun) }));
  return heard.sort((a, b) => Number(b.hears) - Number(a.hears) || worth(b) - worth(a));
}

/**
 * Where the last of the inputs began to take anything; those that never did are not waited for. What came before tells nothing:
 * an input that is opened late is silent at first, and that is no quiet room.
 * @param steps mean squares, the same moments for every input
 */
export function latestBegin(steps: readonly (readonly number[])[]): number {
  return Math.max(0, ...steps.map((one) => one.findIndex((power) => power > 0)));
}

function judgeInput({ key, steps }: InputTrial): InputHeard {
  const sorted = [...steps].sort((a, b) => a - b);
  const loud = sorted.length === 0 ? 0 : at(sorted, 0.9);
  if (loud === 0) return { key, speechDb: null, aboveRoomDb: 0, hears: false };
  const speechDb = powerToDb(loud);
  // A gate that cuts the pauses leaves nothing to compare with: the least that can be heard stands for it.
  const roomDb = Math.max(-90, powerToDb(at(sorted, 0.1)));
  return { key, speechDb, aboveRoomDb: speechDb - roomDb, hears: speechDb > HEARD_DB && speechDb - roomDb > HEARD_ABOVE_DB };
}
