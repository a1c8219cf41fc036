import { describe, expect, it } from 'vitest';
import { observeAlso, type Observation } from '@/core/hearing/observation';
import type { LineView } from '../lines/line-view';
import { observeHeadphones } from './observe-headphones';

const line = (echoDb: number | null, echoCancellation = false) => ({ status: { echoDb, echoDelayMs: 41.6, echoCancellation } }) as LineView;

describe('what the guests’ headphones tests say', () => {
  it('counts once, is replaced by the next test, and goes when nothing leaks or the echo is cancelled', () => {
    let known: Observation[] = [];
    const test = (runa: LineView) => {
      const { newer, outdated } = observeHeadphones({ runa }, known);
      known = observeAlso(known.filter((one) => !outdated(one)), newer);
      return newer.length;
    };
    expect([test(line(-23.44)), test(line(-23.44)), known.length]).toEqual([1, 0, 1]);
    expect(known[0]).toMatchObject({ by: 'the headphones test', coupling: { from: 'ears:runa', to: 'voice:runa', gainDb: -23.4, delayMs: 42, measured: true } });
    expect([test(line(-30)), known.length]).toEqual([1, 1]);
    for (const none of [line(null), line(-23, true)]) {
      test(line(-30));
      test(none);
      expect(known).toEqual([]);
    }
  });

  it('leaves alone what somebody else has measured', () => {
    const other: Observation = { of: 'coupling', by: 'the line check', at: '2031-01-01T00:00:00.000Z', coupling: { id: 'loudspeakers/ears:runa/voice:runa', kind: 'loudspeakers', from: 'ears:runa', to: 'voice:runa', gainDb: -20, delayMs: 100, measured: true } };
    expect(observeHeadphones({ runa: line(null) }, [other]).outdated(other)).toBe(false);
  });
});
