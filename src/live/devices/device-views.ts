import { DRIFT_PPM, EVENED, GLITCHES, LOST, RATE, WAITING } from '@/core/dsp/sound-ring';
import type { DeviceInput } from './device-input';
import type { DeviceOwner } from './device-owner';
import type { Outlet } from './outlet';
import type { InputView, OutletView } from './plugged-state';

/** Shown to half a millisecond and whole ppm: finer would only flicker. */
const half = (ms: number): number => Math.round(2 * ms) / 2;
const ppm = (drift: number): number | null => (Number.isNaN(drift) ? null : Math.round(drift) + 0);

export function inputView(input: DeviceInput): InputView {
  const { ring, state, label, reason, captureMs } = input;
  const rate = ring && ring.counters[RATE] > 0 ? ring.counters[RATE] : null;
  return {
    state,
    label,
    reason,
    delayMs: ring && rate ? half(captureMs + (1000 * ring.facts[WAITING]) / rate) : null,
    driftPpm: ring ? ppm(ring.facts[DRIFT_PPM]) : null,
    lost: ring?.facts[LOST] ?? 0,
    glitches: ring?.facts[GLITCHES] ?? 0,
    evened: Math.round(ring?.facts[EVENED] ?? 0),
    rate,
  };
}

export function outletView(outlet: Outlet, owner: DeviceOwner): OutletView {
  const { choice, state, reason, ring } = outlet;
  return {
    choice,
    state,
    label: choice.device === '' ? 'the output the system offers' : owner.nameOf(choice.device),
    reason,
    delayMs: ring ? half(outlet.delayMs()) : null,
    driftPpm: ring ? ppm(ring.facts[DRIFT_PPM]) : null,
    glitches: outlet.dropOuts(),
  };
}
