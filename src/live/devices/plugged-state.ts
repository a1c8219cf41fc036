import type { DeviceChoices, OutletChoice } from '@/core/devices/choices';
import type { CameBack } from '@/core/hearing/wiring';
import type { DevicesState } from './device-owner';
import type { InputState } from './device-input';
import { GOOD_MANNERS, type FarEndManner } from './far-end-manner';
import type { OutletState } from './outlet';

/** A source’s way in, as the screens show it. */
export interface InputView {
  state: InputState;
  /** The device, as the host knows it. */
  label: string;
  reason: string;
  /** From the air to the desk, ms; null where it cannot be known. */
  delayMs: number | null;
  driftPpm: number | null;
  /** Samples lost, and how often, since it was opened; samples evened out between the clocks. */
  lost: number;
  glitches: number;
  evened: number;
  rate: number | null;
}

/** A mix’s way out. */
export interface OutletView {
  choice: OutletChoice;
  state: OutletState;
  label: string;
  reason: string;
  delayMs: number | null;
  driftPpm: number | null;
  glitches: number;
}

/** Devices of this computer and what is plugged in where. */
export interface PluggedState {
  devices: DevicesState;
  choices: DeviceChoices;
  inputs: Record<string, InputView>;
  outlets: Record<string, OutletView>;
  cameBack: CameBack[];
  farEnd: FarEndManner;
}

export const NOTHING_PLUGGED: Omit<PluggedState, 'devices'> = { choices: { inputs: [], outlets: [] }, inputs: {}, outlets: {}, cameBack: [], farEnd: GOOD_MANNERS };
