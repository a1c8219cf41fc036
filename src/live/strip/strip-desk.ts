import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { Own, StripSlice } from '../desk/desk-state';
import type { HandsOnAir } from '../desk/hands-on-air';
import type { Conditions } from '../desk/conditions';

/** What strips need of their desk. */
export interface StripDesk {
  store: Own<StripSlice>;
  plan: DeskPlan;
  hands: HandsOnAir;
  audio(): AudioDesk | null;
  conditions: Conditions;
}
