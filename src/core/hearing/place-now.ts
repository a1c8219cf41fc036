import { heardAt } from './compile';
import { coughsInto, type OnAir } from './on-air';
import { crosspointOf, operandFor } from './operands';
import { sourceSettings, type HearingPlan, type Listener, type Source } from './plan';

/**
 * What a place of the grid is now. `wall`: no crosspoint can exist. `dark`: closed by rule or hand. `lit`: heard now.
 * All others are open by the plan, and not heard now for the reason they name.
 */
export const PLACE_STATES = ['wall', 'dark', 'lit', 'waiting', 'held', 'coughed', 'off', 'kept-out', 'listening'] as const;
export type PlaceState = (typeof PLACE_STATES)[number];

export interface PlaceNow {
  state: PlaceState;
  /** Level at which it is heard now, or would be by the plan's crosspoint, dB; 0 where there is none. */
  gainDb: number;
}

/** What is true of a place now: the plan, who waits, and what the hands do. */
export function placeNow(plan: HearingPlan, onAir: OnAir, source: Source, listener: Listener, listeners: readonly Listener[]): PlaceNow {
  const operand = operandFor(source, listener);
  if (!operand) return { state: 'wall', gainDb: 0 };
  const now = heardAt(plan, onAir, source, listener, listeners);
  if (now !== null) return { state: 'lit', gainDb: now };
  const { open, gainDb } = crosspointOf(plan, operand);
  return { state: open ? reasonAgainst(plan, onAir, source, listener) : 'dark', gainDb };
}

function reasonAgainst(plan: HearingPlan, onAir: OnAir, source: Source, listener: Listener): PlaceState {
  const { on, offIn } = sourceSettings(plan, source.id);
  if (onAir.held.includes(source.id)) return 'held';
  if (whoWaits(plan, source, listener) !== null) return 'waiting';
  if (!on) return 'off';
  if (offIn.includes(listener.kind)) return 'kept-out';
  if (coughsInto(onAir, source.id, listener)) return 'coughed';
  return 'listening';
}

/** Who of the two ends of a place waits; null for nobody. */
export function whoWaits(plan: HearingPlan, source: Source, listener: Listener): string | null {
  if (source.kind === 'voice' && plan.waiting.includes(source.seat.id)) return source.seat.name;
  return listener.kind === 'return' && plan.waiting.includes(listener.seat.id) ? listener.seat.name : null;
}
