import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { panned, shareOf, showing, ticks, zoomed, type View } from './view';

const LENGTH = 48_000 * 7200;
const isWithin = ({ from, to }: View, length: number) => from >= 0 && to <= length && to > from && Number.isInteger(from) && Number.isInteger(to);

describe('the look at a take', () => {
  it('stays within the take, whatever is pressed', () => {
    const move = fc.oneof(
      fc.record({ kind: fc.constant('zoom' as const), by: fc.constantFrom(0.5, 2), at: fc.double({ min: 0, max: 1, noNaN: true }) }),
      fc.record({ kind: fc.constant('pan' as const), by: fc.double({ min: -3, max: 3, noNaN: true }), at: fc.constant(0) }),
      fc.record({ kind: fc.constant('show' as const), by: fc.constant(0), at: fc.double({ min: 0, max: 1, noNaN: true }) }),
    );
    fc.assert(
      fc.property(fc.integer({ min: 300, max: LENGTH }), fc.array(move, { maxLength: 60 }), (length, moves) => {
        let view: View = { from: 0, to: length };
        for (const { kind, by, at } of moves) {
          const sample = Math.round(at * length);
          if (kind === 'zoom') view = zoomed(view, by, sample, length);
          else if (kind === 'pan') view = panned(view, by, length);
          else view = showing(view, sample, length);
          expect(isWithin(view, length)).toBe(true);
          if (kind === 'show') expect(sample >= view.from && sample <= view.to).toBe(true);
        }
      }),
      // Half of an odd length at its very end was once a sample too far.
      { examples: [[4_815_903, [{ kind: 'zoom', by: 0.5, at: 1 }]]] },
    );
  });

  it('comes as close as single samples and keeps the sample that is looked at where it is', () => {
    let view: View = { from: 0, to: LENGTH };
    const at = Math.round(LENGTH / 3);
    const share = shareOf(view, at);
    while (view.to - view.from > 240) {
      const closer = zoomed(view, 0.5, at, LENGTH);
      expect(Math.abs(shareOf(closer, at) - share)).toBeLessThan(0.01);
      view = closer;
    }
    expect(zoomed(view, 0.5, at, LENGTH).to - zoomed(view, 0.5, at, LENGTH).from).toBe(240);
  });

  it('leaves the look alone when what is shown is in sight', () => {
    const view = { from: 1000, to: 2000 };
    expect(showing(view, 1500, LENGTH)).toBe(view);
    expect(shareOf(showing(view, 50_000, LENGTH), 50_000)).toBeCloseTo(0.1, 2);
  });

  it('has times along it that have room beside each other, and enough of them, however wide the screen is', () => {
    fc.assert(
      fc.property(fc.integer({ min: 48, max: LENGTH }), fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 200, max: 1800 }), (span, place, width) => {
        const from = Math.round(place * (LENGTH - span));
        const view = { from, to: from + span };
        const found = ticks(view, width);
        const leftOf = ({ sample }: { sample: number }) => width * shareOf(view, sample);
        for (const [k, tick] of found.entries()) {
          const right = leftOf(tick) + 7 * tick.words.length;
          expect(right).toBeLessThan(k + 1 < found.length ? leftOf(found[k + 1]) : width + 1);
        }
        expect(new Set(found.map(({ words }) => words)).size).toBe(found.length);
        if (span > 48_000) expect(found.length).toBeGreaterThanOrEqual(1);
      }),
    );
    expect(ticks({ from: 0, to: 48_000 * 3600 }, 600).map(({ words }) => words)).toEqual(['0:00', '10:00', '20:00', '30:00', '40:00', '50:00']);
  });
});
