import { dbToGain, powerToDb } from '../dsp/decibels';
import { speechStretches, type Stretch } from '../takes/who-speaks';

/** Readings of a track's power a second. */
export const STEPS_PER_SECOND = 10;
const STEP_SAMPLES = 48_000 / STEPS_PER_SECOND;
/** Speech stands this far above the noise and above this level, dB. */
const ABOVE_NOISE = 12;
const AT_LEAST = -55;
/** A voice stands this far above what of others is in its track, as power: 6 dB. */
const ABOVE_OTHERS = 4;

/** Somebody who is heard in a track that is not theirs. */
export interface HeardBeside {
  /** Mean square of each step of their own track. */
  steps: readonly number[];
  /** How much of it arrives, dB, and how late. */
  gainDb: number;
  delayMs: number;
}

/** Which steps of a track hold sound above its noise. */
export function aboveNoise(steps: readonly number[], floorDb: number | null): boolean[] {
  const gate = Math.max(AT_LEAST, Math.min((floorDb ?? -Infinity) + ABOVE_NOISE, -30));
  return steps.map((power) => powerToDb(power) > gate);
}

/** Where the owner of a track speaks: what others bring into it is not theirs. @param steps mean square of each tenth of a second */
export function ownSpeech(steps: readonly number[], floorDb: number | null, beside: readonly HeardBeside[]): Stretch[] {
  const sounds = aboveNoise(steps, floorDb);
  return speechStretches(
    sounds.map((here, k) => here && steps[k] > ABOVE_OTHERS * beside.reduce((sum, one) => sum + arriving(one, k), 0)),
    STEP_SAMPLES,
  );
}

/** The most of somebody that can be in a step; delays lie between steps, and a room goes on after the word. */
function arriving({ steps, gainDb, delayMs }: HeardBeside, step: number): number {
  const late = (delayMs * STEPS_PER_SECOND) / 1000;
  let most = 0;
  for (let k = Math.max(0, Math.floor(step - late) - 2); k <= Math.min(steps.length - 1, Math.ceil(step - late)); k++) most = Math.max(most, steps[k]);
  return dbToGain(gainDb) ** 2 * most;
}
