import { describe, expect, it } from 'vitest';
import type { SourceId } from '../hearing/ids';
import { bestOf, wasLoud } from './repeat';
import type { Arrival, Arrivals } from './ways-back';

const way = (code: number, gainDb: number): Arrival => ({ code, gainDb, delayMs: 100, certainty: 50, clear: true });
const heard = (of: Record<string, Arrivals>) => new Map(Object.entries(of) as [SourceId, Arrivals][]);

describe('a pass that is repeated', () => {
  it('counts for each input where less would have been missed, and keeps what only one of them found', () => {
    const first = heard({ 'voice:a': { found: [way(1, -30)], floorDb: -45 }, 'voice:b': { found: [way(1, -20), way(3, -26)], floorDb: -22 } });
    const again = heard({ 'voice:a': { found: [way(1, -36), way(2, -28)], floorDb: -30 }, 'voice:b': { found: [way(1, -21), way(2, -40)], floorDb: -50 } });
    const best = bestOf(first, again, false);
    const levels = (source: string) => best.get(source as SourceId)!.found.map(({ code, gainDb }) => [code, gainDb]);
    expect([levels('voice:a'), best.get('voice:a' as SourceId)!.floorDb]).toEqual([[[1, -30], [2, -28]], -45]);
    expect([levels('voice:b'), best.get('voice:b' as SourceId)!.floorDb]).toEqual([[[1, -21], [2, -40], [3, -26]], -50]);
    // What a device that stood still brought reads low, however quiet it was there.
    expect(bestOf(first, again, true).get('voice:a' as SourceId)!.found[0].gainDb).toBe(-36);
    expect([wasLoud(first), wasLoud(heard({ 'voice:a': { found: [], floorDb: -41 }, 'voice:b': { found: [], floorDb: -Infinity } }))]).toEqual([true, false]);
  });
});
