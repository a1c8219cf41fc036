import type { HeardInInputs } from './assemble';
import type { Arrivals } from './ways-back';

/** Weaker ways back than this are found in a quiet room; where an input could not tell them, it is listened to again, dB. */
export const UNSURE_DB = -40;

/** Whether an input was too loud to tell what should be told: somebody spoke. */
export const wasLoud = (heard: HeardInInputs): boolean => [...heard.values()].some(({ floorDb }) => Number.isFinite(floorDb) && floorDb > UNSURE_DB);

/**
 * Two passes over the same listeners as one. Of each input the pass counts in which less would have been missed; what only the
 * other one found stays found.
 * @param broken the first was broken by a device that stood still or a link that broke off: what it heard reads low
 */
export function bestOf(first: HeardInInputs, again: HeardInInputs, broken: boolean): HeardInInputs {
  return new Map(
    [...again].map(([source, later]): [typeof source, Arrivals] => {
      const earlier = first.get(source);
      if (!earlier) return [source, later];
      const [better, other] = broken || later.floorDb <= earlier.floorDb ? [later, earlier] : [earlier, later];
      return [source, { found: [...better.found, ...other.found.filter(({ code }) => !better.found.some((one) => one.code === code))], floorDb: better.floorDb }];
    }),
  );
}
