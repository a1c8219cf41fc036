import { describe, expect, it, vi } from 'vitest';
import { keptConditions } from '../testing/kept-conditions';
import type { InputView, OutletView, PluggedState } from './plugged-state';
import { NOTHING_PLUGGED } from './plugged-state';
import { kept, same, sayOfDevice, withoutNumbers } from './plugged-news';

const input: InputView = { state: 'open', label: 'Cable 1', reason: '', delayMs: 20, driftPpm: 3, lost: 0, glitches: 0, evened: 10, rate: 48_000 };
const outlet = { choice: { id: 'a', listener: 'program', device: 'd', channels: 'stereo', offsetMs: 0 }, state: 'open', label: 'Cable 2', reason: '', delayMs: 30, driftPpm: 1, glitches: 0 } as unknown as OutletView;
const plugged = (change: { input?: Partial<InputView>; outlet?: Partial<OutletView> } = {}): PluggedState =>
  ({ ...NOTHING_PLUGGED, devices: 'those', inputs: { 'voice:a': { ...input, ...change.input }, 'voice:b': input }, outlets: { a: { ...outlet, ...change.outlet } } }) as unknown as PluggedState;

describe('what is new of what is plugged in', () => {
  it('is told apart: what was measured, and what a host must see at once', () => {
    for (const numbers of [{ input: { delayMs: 22 } }, { input: { lost: 480, glitches: 1, evened: 12 } }, { outlet: { delayMs: 31, driftPpm: 4 } }]) {
      expect(same(plugged(), plugged(numbers))).toBe(false);
      expect(same(withoutNumbers(plugged()), withoutNumbers(plugged(numbers)))).toBe(true);
    }
    for (const states of [{ input: { state: 'away' } }, { input: { label: 'Another' } }, { outlet: { state: 'refused', reason: 'It is gone.' } }] as { input?: Partial<InputView>; outlet?: Partial<OutletView> }[]) {
      expect(same(withoutNumbers(plugged()), withoutNumbers(plugged(states)))).toBe(false);
    }
  });

  it('goes by itself once a device is back, whatever its name says', () => {
    vi.useFakeTimers();
    const { conditions, said } = keptConditions();
    sayOfDevice(conditions, 'a', 'away', '“Far away” went away.');
    vi.advanceTimersByTime(600_000);
    expect(said()).toHaveLength(1);
    sayOfDevice(conditions, 'a', 'open', '“Far away” is back.');
    vi.advanceTimersByTime(60_000);
    expect(said()).toEqual([]);
    vi.useRealTimers();
  });

  it('leaves what has not changed as it was, to the object', () => {
    const before = plugged().inputs;
    const now = kept(before, plugged({ input: { delayMs: 22 } }).inputs);
    expect(now['voice:b']).toBe(before['voice:b']);
    expect(now['voice:a']).toMatchObject({ delayMs: 22 });
  });
});
