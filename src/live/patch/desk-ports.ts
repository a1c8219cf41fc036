import { MOST_OUTLETS } from '@/core/devices/choices';
import { MOST_INPUTS, MOST_LINES, MOST_SHARES } from '@/core/limits';
import type { PortKind } from './port-table';

/** Somebody who changes from one line or device to another has both for a moment. */
const CHANGING = 4;

/** Ports of a desk's audio thread: enough for everything a plan can hold at once, by whichever way it comes. */
export const DESK_PORTS: Record<PortKind, number> = Object.freeze({
  inputs: 1 + MOST_LINES + MOST_SHARES + MOST_INPUTS + CHANGING,
  outputs: MOST_LINES + CHANGING,
  devices: 1 + MOST_LINES + MOST_INPUTS + CHANGING,
  outlets: 1 + MOST_LINES + MOST_OUTLETS + CHANGING,
});
