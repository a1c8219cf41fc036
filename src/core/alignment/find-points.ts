import { TO_16_KHZ } from '../dsp/decimate';
import { median } from './median';
import { at16k, type TwoRecordings } from './recordings';
import { createWindowLag, LAG_WINDOW, type WindowLag } from './window-lag';

/** Where one window of the line was found in the home recording; samples at 48 kHz. */
export interface Point {
  /** Middle of the window on the line. */
  at: number;
  /** Home sample minus line sample there. */
  offset: number;
}

export interface Points {
  points: Point[];
  /** Windows in which both spoke. */
  sounding: number;
}

/** A window every second. */
const HOP = 48000;
/** Samples at 16 kHz around the place where a window is expected: 128 ms, and 1 s after it was not there. */
const NEAR = 2048;
const FAR = 18432;

/** Looks for the line in the home recording, window after window. @param coarse home minus line, roughly */
export async function findPoints({ line, lineSamples, home, homeSamples }: TwoRecordings, coarse: number, onProgress?: (share: number) => Promise<void> | void): Promise<Points> {
  const ways = [NEAR, FAR].map((reach) => ({ reach, compare: createWindowLag(reach) }));
  const line16 = at16k(line);
  const home16 = at16k(home);
  const points: Point[] = [];
  let sounding = 0;
  let expected = coarse;
  const span = LAG_WINDOW * TO_16_KHZ;
  for (let from = 0; from + span <= lineSamples; from += HOP) {
    const at = from + span / 2;
    const homeAt = from + expected;
    if (homeAt + span > 0 && homeAt < homeSamples) {
      const window = await line16(from / TO_16_KHZ, LAG_WINDOW);
      let found: WindowLag = { kind: 'silent' };
      for (const { reach, compare } of ways) {
        const homeFrom = Math.round(homeAt / TO_16_KHZ) - reach;
        found = compare(window, await home16(homeFrom, LAG_WINDOW + 2 * reach));
        if (found.kind === 'clear') points.push({ at, offset: (homeFrom + found.lag) * TO_16_KHZ - from });
        if (found.kind !== 'unclear') break;
      }
      if (found.kind !== 'silent') sounding++;
      // One wrong window must not lead the search away.
      if (found.kind === 'clear') expected = median(points.slice(-5).map(({ offset }) => offset));
    }
    await onProgress?.(Math.min(1, (from + span) / lineSamples));
  }
  return { points, sounding };
}
