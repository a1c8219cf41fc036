import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { formatClock, formatDb, formatDuration, formatLevel } from './format';
import { freeId } from './free-id';
import { holdOrLatch } from '@/live/desk/hold-or-latch';

describe('a control that is held or tapped', () => {
  let on = false;
  const control = () =>
    holdOrLatch(
      () => on,
      (next) => {
        on = next;
      },
    );
  beforeEach(() => {
    on = false;
    vi.useFakeTimers({ toFake: ['performance'] });
  });
  afterEach(() => vi.useRealTimers());

  it('ends when it is let go after being held', () => {
    const key = control();
    key.press();
    expect(on).toBe(true);
    vi.advanceTimersByTime(900);
    key.release?.();
    expect(on).toBe(false);
  });
  it('stays after a tap, until the next tap', () => {
    const key = control();
    key.press();
    vi.advanceTimersByTime(80);
    key.release?.();
    expect(on).toBe(true);
    vi.advanceTimersByTime(2000);
    key.press();
    expect(on).toBe(false);
    vi.advanceTimersByTime(900);
    key.release?.();
    expect(on).toBe(false);
  });
  it('is a tap when the finger was short, however late a busy page hears of it', () => {
    const key = control();
    key.press(1000);
    vi.advanceTimersByTime(900);
    key.release?.(1090);
    expect(on).toBe(true);
  });
  it('is not turned on by a release that comes after everything was let go elsewhere', () => {
    const key = control();
    key.press();
    on = false; // the window lost the keyboard
    vi.advanceTimersByTime(900);
    key.release?.();
    expect(on).toBe(false);
  });
});

describe('numbers on the screen', () => {
  it('have a true minus sign, whole or half decibels, and a dash for silence', () => {
    expect([formatDb(-6), formatDb(2.6), formatDb(0), formatDb(-0.1), formatDb(-Infinity)]).toEqual(['−6 dB', '+2.5 dB', '0 dB', '0 dB', '– dB']);
    expect([formatLevel(-18.6), formatLevel(-90), formatLevel(-Infinity)]).toEqual(['−19', '–', '–']);
  });
  it('are times one can read', () => {
    expect([formatDuration(42.9), formatDuration(725), formatDuration(3723), formatDuration(-1)]).toEqual(['0:42', '12:05', '1:02:03', '0:00']);
    expect(formatClock(767)).toBe('00:12:47');
  });
});

describe('an id from a name', () => {
  it('is plain and not yet taken', () => {
    expect(freeId('Overflow room', [])).toBe('overflow-room');
    expect(freeId('Überlauf!', ['u-berlauf'])).toMatch(/^u-berlauf-2$/);
    expect(freeId('!!!', [])).toBe('unnamed');
  });
});
