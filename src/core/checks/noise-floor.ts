import { powerToDb } from '../dsp/decibels';
import { mean } from './mean';

/** Quieter than the least 24-bit step: digital silence. */
export const DIGITAL_SILENCE_DB = -135;
/** Noise is what stays the same for a second: within this, dB. Speech never does. */
const STEADY_DB = 4;
const STEADY_STEPS = 10;

/** Finds the quietest second of steady sound. There is none where pauses are digitally silent: they hold no noise. */
export function createNoiseFinder() {
  let floorDb: number | null = null;
  let quietStep: number | null = null;
  return {
    /** Looks at the newest second of all steps so far. */
    push(steps: readonly number[]): void {
      const from = steps.length - STEADY_STEPS;
      if (from < 0) return;
      const newest = steps.slice(from);
      const low = Math.min(...newest);
      if (powerToDb(low) < DIGITAL_SILENCE_DB || powerToDb(Math.max(...newest) / low) > STEADY_DB) return;
      const db = powerToDb(mean(newest));
      if (floorDb === null || db < floorDb) [floorDb, quietStep] = [db, from];
    },
    result: () => ({ floorDb, quietStep }),
  };
}
