import type { VoiceProcessing } from './source-treatment';
import { voiceOf, type SourceId } from './ids';
import type { HearingPlan } from './plan';

export type { VoiceProcessing };

const NOTHING_DONE: VoiceProcessing = Object.freeze({ lowCut: false, evenOut: false });

export const processingOf = (plan: HearingPlan, source: SourceId): VoiceProcessing => plan.processing[source] ?? NOTHING_DONE;

export const isProcessed = (plan: HearingPlan, source: SourceId): boolean => {
  const { lowCut, evenOut } = processingOf(plan, source);
  return lowCut || evenOut;
};

/** A voice that is processed, in places of the engine. */
export interface CompiledProcessing extends VoiceProcessing {
  source: number;
}

export function compileProcessing(plan: HearingPlan, places: readonly SourceId[]): CompiledProcessing[] {
  return plan.seats.flatMap(({ id }) => {
    const source = places.indexOf(voiceOf(id));
    return source >= 0 && isProcessed(plan, voiceOf(id)) ? [{ source, ...processingOf(plan, voiceOf(id)) }] : [];
  });
}

/** What is done to a voice, in words: `rumble cut, evened out`. */
export function processingInWords({ lowCut, evenOut }: VoiceProcessing): string {
  const words = [lowCut && 'rumble cut', evenOut && 'evened out'].filter((one) => one !== false);
  return words.length === 0 ? 'as it comes' : words.join(', ');
}
