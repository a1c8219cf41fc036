import { CLOSED_STRIP, isClosed, type StripSettings } from '../strip/settings';
import type { SourceId } from './ids';
import type { HearingPlan } from './plan';

/** What is done to a source before the mixes get it. */
export const stripOf = (plan: HearingPlan, source: SourceId): StripSettings => plan.processing[source] ?? CLOSED_STRIP;

export const isProcessed = (plan: HearingPlan, source: SourceId): boolean => !isClosed(stripOf(plan, source));

/** A source that is processed, in places of the engine. */
export interface CompiledProcessing {
  source: number;
  strip: StripSettings;
}

export function compileProcessing(plan: HearingPlan, places: readonly SourceId[]): CompiledProcessing[] {
  return places.flatMap((id, source) => (isProcessed(plan, id) ? [{ source, strip: stripOf(plan, id) }] : []));
}
