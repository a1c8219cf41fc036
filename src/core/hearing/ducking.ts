import type { Ducking } from './source-treatment';
import { coughsInto, type OnAir } from './on-air';
import { PROGRAM, soundsOf, voiceOf, type SourceId } from './ids';
import { crosspointOf, operandFor } from './operands';
import { listenersOf, sourceSettings, sourcesOf, type HearingPlan, type Player } from './plan';

export type { Ducking };

/** What a bed does unless the host says otherwise. */
export const DEFAULT_DUCKING: Ducking = Object.freeze({
  on: false,
  under: null,
  thresholdDb: -42,
  depthDb: 12,
  attackMs: 180,
  holdMs: 600,
  releaseMs: 900,
});

/** The sound players of a show's first episode; the bed goes under the voices by itself. */
export const FIRST_PLAYERS: Player[] = [
  { id: 'effects', name: 'Sounds' },
  { id: 'bed', name: 'Bed' },
];
export const BED_DUCKS: HearingPlan['ducking'] = { [soundsOf('bed')]: { ...DEFAULT_DUCKING, on: true } };

/** The same in an episode with other people: who speaks is another. */
export const forAnybody = (ducking: HearingPlan['ducking']): HearingPlan['ducking'] =>
  Object.fromEntries(Object.entries(ducking).map(([source, one]) => [source, { ...one!, under: null }]));

/** A source that ducks, in places of the engine. */
export interface CompiledDucking {
  source: number;
  /** Voices that take it down. */
  keys: number[];
  thresholdDb: number;
  depthDb: number;
  attackMs: number;
  holdMs: number;
  releaseMs: number;
}

export const duckingOf = (plan: HearingPlan, source: SourceId): Ducking => plan.ducking[source] ?? DEFAULT_DUCKING;

/**
 * What ducks, and under whom: only voices the program hears now, so that neither a cough nor
 * somebody who waits takes the music down.
 */
export function compileDucking(plan: HearingPlan, onAir: OnAir, places: readonly SourceId[]): CompiledDucking[] {
  const program = listenersOf(plan).find(({ id }) => id === PROGRAM);
  const speaking = sourcesOf(plan).filter((source) => {
    if (source.kind !== 'voice' || !program || plan.waiting.includes(source.seat.id)) return false;
    const { on, offIn } = sourceSettings(plan, source.id);
    const operand = operandFor(source, program);
    return on && !offIn.includes('program') && !coughsInto(onAir, source.id, program) && operand !== null && crosspointOf(plan, operand).open;
  });
  return places.flatMap((id, source): CompiledDucking[] => {
    const { on, under, ...settings } = duckingOf(plan, id);
    if (!on || !plan.ducking[id]) return [];
    const keys = speaking.filter((one) => under === null || under.some((seat) => voiceOf(seat) === one.id)).map((one) => places.indexOf(one.id));
    return [{ source, keys, ...settings }];
  });
}
