import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { compilePlan } from '@/core/hearing/compile';
import { voiceOf } from '@/core/hearing/ids';
import { HandsOnAir } from '../desk/hands-on-air';
import { initialDeskState } from '../desk/initial-desk-state';
import { deskData } from '../testing/desk-data';
import type { ToMixWorklet } from '../worklet/messages';
import { COMPARED_LOUDNESS } from '../worklet/status-board';
import { StripComparison } from './strip-comparison';
import type { StripDesk } from './strip-desk';
import { keptConditions } from '../testing/kept-conditions';

const runa = voiceOf('runa');

/** A desk with a call, whose audio thread measures what a test says. */
function comparing() {
  const store = createStore(() => ({ ...initialDeskState(deskData()), call: 'running' as const }));
  const compiled = compilePlan(store.getState().plan);
  const told: ToMixWorklet[] = [];
  const board = { clocks: new Float64Array(6).fill(NaN), sourceLoudness: new Float32Array(8).fill(-Infinity) };
  const hands = new HandsOnAir(store as never, { apply: () => undefined, talk: () => undefined, hostSeat: () => 'maren' });
  const desk = { store, hands, plan: { compiled: () => compiled }, audio: () => ({ board, tell: (message: ToMixWorklet) => told.push(message) }), conditions: keptConditions().conditions };
  const comparison = new StripComparison(desk as unknown as StripDesk);
  const measure = (before: number, behind: number) => {
    board.sourceLoudness[compiled.sourceIds.indexOf(runa)] = before;
    board.clocks[COMPARED_LOUDNESS] = behind;
  };
  return { store, comparison, measure, told, hands, slot: compiled.sourceIds.indexOf(runa), listensTo: () => store.getState().onAir.listenTo };
}

describe('a voice with and without its strip', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('comes at the same loudness once that was measured, and never claims so before', () => {
    const { comparison, measure, listensTo, told, slot } = comparing();
    comparison.begin(runa);
    expect(told).toEqual([{ type: 'compare', source: slot }]);
    comparison.hear(false);
    expect(listensTo()).toEqual({ source: runa, asItComes: { gainDb: null } });
    measure(-24, -19.5);
    vi.advanceTimersByTime(600);
    expect(listensTo()).toEqual({ source: runa, asItComes: { gainDb: 4.5 } });
    measure(-24, -19.7);
    vi.advanceTimersByTime(600);
    expect(listensTo(), 'a difference nobody hears').toEqual({ source: runa, asItComes: { gainDb: 4.5 } });
    comparison.hear(true);
    expect(listensTo()).toEqual({ source: runa });
    comparison.stop();
    expect(listensTo()).toBeNull();
  });

  it('measures no longer once it is over, and takes nothing else out of the phones', () => {
    const { comparison, hands, listensTo, told, store } = comparing();
    comparison.begin(runa);
    hands.listenTo({ source: voiceOf('priya') });
    comparison.end();
    expect(listensTo()).toEqual({ source: voiceOf('priya') });
    expect(told.at(-1)).toEqual({ type: 'compare', source: -1 });
    comparison.begin(runa);
    comparison.hear(true);
    store.setState({ call: 'off' as never });
    expect(listensTo()).toBeNull();
    expect(vi.getTimerCount()).toBe(0);
  });

  it('listens no longer than the host’s listening lasts', () => {
    const { comparison, store, listensTo, measure } = comparing();
    comparison.begin(runa);
    measure(-20, -26);
    comparison.hear(false);
    vi.advanceTimersByTime(1000 * store.getState().habits.listenSeconds + 1);
    expect(listensTo()).toBeNull();
    vi.advanceTimersByTime(2000);
    expect(listensTo()).toBeNull();
    comparison.end();
  });
});
