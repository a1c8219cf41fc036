import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { AudioDesk } from '../desk/audio-desk';
import { ringBytes, ringReader, ringWriter } from './ring';
import { takeRecording } from './take-recording';

describe('a take whose audio thread has gone', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('ends all the same, with everything that had come', async () => {
    const ring = new SharedArrayBuffer(ringBytes(1));
    const [writer, reader] = [ringWriter(ring, 1), ringReader(ring, 1)];
    const desk = { tell: () => undefined } as unknown as AudioDesk;
    const worker = { postMessage: () => undefined } as unknown as Worker;
    const take = takeRecording(desk, worker, ring, 'take-1', 1, () => undefined);
    writer.next()!.fill(0.5);
    writer.commit(0);
    take.stop([]);
    const came: number[] = [];
    reader.drain((position) => came.push(position));
    // Whoever is only late is waited for.
    await vi.advanceTimersByTimeAsync(2000);
    expect(reader.ended()).toBe(false);
    await vi.advanceTimersByTimeAsync(5000);
    expect([reader.ended(), came]).toEqual([true, [0]]);
  });
});
