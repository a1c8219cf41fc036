import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { FLOWING, newSoundRing } from '@/core/dsp/sound-ring';
import type { LineReport } from '@/core/lines/line-report';
import type { DeskDevices } from '../devices/desk-devices';
import { NOTHING_PLUGGED, type InputView, type OutletView } from '../devices/plugged-state';
import type { DeskState } from '../desk/desk-state';
import { initialDeskState } from '../desk/initial-desk-state';
import { deskData } from '../testing/desk-data';
import type { LineView } from './line-view';
import { PairLines } from './pair-lines';

/** Runa on two devices, and what the desk says and reports of her line. */
function runa() {
  const data = deskData();
  const seats = data.seats.map((seat) => (seat.id === 'runa' ? { ...seat, line: 'pair' as const } : seat));
  const ring = newSoundRing();
  ring.facts[FLOWING] = 1;
  const here = { peak: 0, looped: false, plugged: true };
  const devices = {
    inputPeak: () => here.peak,
    isLooped: () => here.looped,
    input: () => ({ ring }),
    inputChoice: () => ({ device: 'in' }),
    owner: { device: () => ({ here: here.plugged }) },
  } as unknown as DeskDevices;
  const choices = { inputs: [{ source: 'voice:runa', device: 'in', channels: 'both' }], outlets: [{ id: 'line:runa', listener: 'return:runa', device: 'out', channels: 'stereo', offsetMs: 0 }] };
  const input: InputView = { state: 'open', label: 'in', reason: '', delayMs: 60, driftPpm: null, lost: 0, glitches: 0, evened: 0, rate: 48000 };
  const outlet = { state: 'open', delayMs: 90 } as OutletView;
  const plugged = (change: Partial<InputView> = {}, out: Partial<OutletView> = {}) =>
    ({ ...NOTHING_PLUGGED, choices, inputs: { 'voice:runa': { ...input, ...change } }, outlets: { 'line:runa': { ...outlet, ...out } } }) as unknown as DeskState['plugged'];
  const store = createStore<DeskState>(() => ({ ...initialDeskState({ ...data, seats }), plugged: plugged(), call: 'running' }));
  const reports: LineReport[] = [];
  let views: Record<string, LineView> = {};
  const lines = new PairLines({ store, devices, publish: (next) => (views = next), onReport: (_, report) => reports.push(report) });
  lines.open();
  return { store, here, ring, plugged, reports, lines, state: () => views.runa.state };
}

describe('a line that is two devices', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());
  const second = () => vi.advanceTimersByTime(1000);

  it('is silent until somebody is heard, live from then on, and says when nothing comes any more', () => {
    const { here, ring, state } = runa();
    expect(state()).toBe('silent');
    here.peak = 0.001;
    second();
    expect(state()).toBe('silent');
    here.peak = 0.1;
    second();
    expect(state()).toBe('live');
    here.peak = 0;
    second();
    expect(state()).toBe('live');
    ring.facts[FLOWING] = 0;
    second();
    expect(state()).toBe('lost');
  });

  it('says which end is away, and that one cable at both ends is kept shut', () => {
    const { store, here, plugged, state } = runa();
    store.setState({ plugged: plugged({ state: 'away' }) });
    expect(state()).toBe('away');
    store.setState({ plugged: plugged({}, { state: 'away' }) });
    expect(state()).toBe('away');
    here.looped = true;
    store.setState({ plugged: plugged() });
    expect(state()).toBe('looped');
    here.looped = false;
    store.setState({ plugged: { ...plugged(), choices: { inputs: [], outlets: plugged().choices.outlets } } });
    expect(state()).toBe('one-end');
  });

  it('looks, with no call, whether both devices are there', () => {
    const { store, here, plugged, state } = runa();
    store.setState({ call: 'off' });
    expect(state()).toBe('plugged');
    here.plugged = false;
    store.setState({ plugged: plugged() });
    expect(state()).toBe('away');
  });

  it('reports both delays once a second, and what was lost of each second as made up', () => {
    const { store, plugged, reports, lines } = runa();
    second();
    store.setState({ plugged: plugged({ lost: 4800 }) });
    second();
    second();
    expect(reports.map(({ toDesk, toGuest }) => [toDesk?.delayMs, toDesk?.concealedMs, toGuest?.delayMs])).toEqual([[60, 0, 90], [60, 100, 90], [60, 0, 90]]);
    store.setState({ plugged: plugged({ state: 'away' }, { state: 'away' }) });
    second();
    expect(reports).toHaveLength(3);
    lines.close();
    store.setState({ plugged: plugged() });
    second();
    expect(reports).toHaveLength(3);
  });
});
