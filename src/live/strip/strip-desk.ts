import type { StoreApi } from 'zustand/vanilla';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { DeskState } from '../desk/desk-state';
import type { HandsOnAir } from '../desk/hands-on-air';
import type { Conditions } from '../desk/conditions';

/** What strips need of their desk. */
export interface StripDesk {
  store: StoreApi<DeskState>;
  plan: DeskPlan;
  hands: HandsOnAir;
  audio(): AudioDesk | null;
  conditions: Conditions;
}
