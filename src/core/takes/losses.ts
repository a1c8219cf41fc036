import type { LostStretch } from './chunker';

/**
 * Losses that were written down before a desk was closed, and those that are seen when what it kept is read again: what was
 * let go of meanwhile is only in the first list, what came last only in the second.
 */
export function allLosses(written: readonly LostStretch[], seen: readonly LostStretch[]): LostStretch[] {
  return [...written, ...seen.filter((loss) => !isWithin(loss, written))].sort((a, b) => a.atSample - b.atSample);
}

const isWithin = ({ atSample, lengthSamples }: LostStretch, stretches: readonly LostStretch[]): boolean =>
  stretches.some((one) => atSample >= one.atSample && atSample + lengthSamples <= one.atSample + one.lengthSamples);
