import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createFrameLoop } from './frame-loop';

const FRAME_MS = 1000 / 60;

describe('the loop of frames', () => {
  let costMs: number;
  let calm: boolean;
  const loopWithCost = () =>
    createFrameLoop({
      now: () => performance.now(),
      // The browser draws at its next frame, and what it draws takes its time.
      beforeFrame: (call) => void setTimeout(call, FRAME_MS),
      later: (call, milliseconds) => void setTimeout(call, milliseconds === 0 ? costMs : milliseconds),
      calm: () => calm,
    });

  beforeEach(() => {
    vi.useFakeTimers();
    costMs = 2;
    calm = false;
  });
  afterEach(() => vi.useRealTimers());

  it('moves some thirty times a second and reads five', () => {
    const loop = loopWithCost();
    const [move, read] = [vi.fn(), vi.fn()];
    loop.onMove(move);
    loop.onRead(read);
    vi.advanceTimersByTime(10_000);
    expect(move.mock.calls.length / 10).toBeGreaterThan(20);
    expect(move.mock.calls.length / 10).toBeLessThan(35);
    expect(read.mock.calls.length / 10).toBeGreaterThan(4);
    expect(read.mock.calls.length / 10).toBeLessThanOrEqual(5.1);
  });

  it('moves in steps for those who want little to move', () => {
    calm = true;
    const move = vi.fn();
    loopWithCost().onMove(move);
    vi.advanceTimersByTime(10_000);
    expect(move.mock.calls.length / 10).toBeGreaterThan(5);
    expect(move.mock.calls.length / 10).toBeLessThan(9);
  });

  it('leaves three quarters of the time to others, however long a frame takes', () => {
    costMs = 150;
    const move = vi.fn();
    loopWithCost().onMove(move);
    vi.advanceTimersByTime(60_000);
    expect(move.mock.calls.length * costMs).toBeLessThanOrEqual(60_000 / 4);
    expect(move.mock.calls.length).toBeGreaterThan(60);
  });

  it('rests when nobody draws, and begins again with the next who does', () => {
    const loop = loopWithCost();
    const [first, second] = [vi.fn(), vi.fn()];
    const end = loop.onMove(first);
    vi.advanceTimersByTime(500);
    end();
    const called = first.mock.calls.length;
    vi.advanceTimersByTime(500);
    expect([first.mock.calls.length, vi.getTimerCount()]).toEqual([called, 0]);
    loop.onRead(second);
    vi.advanceTimersByTime(500);
    expect(second.mock.calls.length).toBeGreaterThan(0);
  });
});
