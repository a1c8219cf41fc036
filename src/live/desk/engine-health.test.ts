import { describe, expect, it } from 'vitest';
import { BUSY_MS, CLOCK } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import { createHealthReader } from './engine-health';

const deskWith = (playbackStats?: object) => {
  const clocks = new Float64Array(6);
  return { clocks, desk: { board: { clocks }, context: { playbackStats } } as unknown as AudioDesk };
};

describe('the engine’s health', () => {
  it('is the share of the time since the last reading that was spent mixing', () => {
    const { clocks, desk } = deskWith();
    clocks[CLOCK] = 480_000;
    clocks[BUSY_MS] = 9000;
    const read = createHealthReader(desk);
    clocks[CLOCK] += 2 * 48_000;
    clocks[BUSY_MS] += 500;
    expect(read()).toEqual({ load: 0.25, dropOuts: null });
    // Too short a stretch to say anything new.
    clocks[CLOCK] += 48_000;
    clocks[BUSY_MS] += 900;
    expect(read().load).toBe(0.25);
    clocks[CLOCK] += 48_000;
    expect(read().load).toBe(0.45);
  });

  it('counts drop-outs from when the call began', () => {
    const stats = { underrunEvents: 3, underrunDuration: 0.5 };
    const read = createHealthReader(deskWith(stats).desk);
    Object.assign(stats, { underrunEvents: 5, underrunDuration: 0.75 });
    expect(read().dropOuts).toEqual({ events: 2, seconds: 0.25 });
  });
});
