import type { SourceId } from './ids';
import { sourceSettings, type HearingPlan } from './plan';

/** A source that comes later into the mixes, in places of the engine. */
export interface CompiledOffset {
  source: number;
  samples: number;
}

const SAMPLES_PER_MS = 48;

/** Where sources are delayed by hand. Tracks never are. */
export function compileOffsets(plan: HearingPlan, places: readonly SourceId[]): CompiledOffset[] {
  return places.flatMap((id, source) => {
    const samples = Math.round(sourceSettings(plan, id).offsetMs * SAMPLES_PER_MS);
    return samples > 0 ? [{ source, samples }] : [];
  });
}
