import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { closingGain, frame, FRAME_WAYS, openingGain, type FrameSound } from './framing';

const RATE = 48_000;
const UNDER = { underDb: -14, underSeconds: 2, outSeconds: 4 };
const sound = (seconds: number, way: FrameSound['way']): FrameSound => ({ lengthSamples: seconds * RATE, way });

describe('an opening and a closing of a mix', () => {
  it('stand before and after it, or lie under its ends', () => {
    expect(frame(600 * RATE, null, null)).toEqual({ talkFrom: 0, talkTo: 600 * RATE, closingFrom: 600 * RATE, lengthSamples: 600 * RATE });
    expect(frame(600 * RATE, sound(20, 'alone'), sound(30, 'alone'))).toEqual({ talkFrom: 20 * RATE, talkTo: 620 * RATE, closingFrom: 620 * RATE, lengthSamples: 650 * RATE });
    expect(frame(600 * RATE, sound(20, 'under'), sound(30, 'under'))).toEqual({ talkFrom: 6 * RATE, talkTo: 606 * RATE, closingFrom: 596 * RATE, lengthSamples: 626 * RATE });
  });

  it('are as loud as the show takes sounds under the talk there, and full where they are alone', () => {
    const [opening, closing] = [sound(20, 'under'), sound(30, 'under')];
    const framing = frame(600 * RATE, opening, closing);
    expect(openingGain(3 * RATE, opening, framing, UNDER)).toBe(1);
    expect(20 * Math.log10(openingGain(10 * RATE, opening, framing, UNDER))).toBeCloseTo(-14, 5);
    expect(openingGain(20 * RATE, opening, framing, UNDER)).toBe(0);
    expect(closingGain(596 * RATE, closing, framing, UNDER)).toBe(0);
    expect(20 * Math.log10(closingGain(604 * RATE, closing, framing, UNDER))).toBeCloseTo(-14, 5);
    expect(closingGain(610 * RATE, closing, framing, UNDER)).toBe(1);
  });

  it('of any lengths: all of everything is in the whole, nothing begins before it, and no gain steps', () => {
    const some = fc.option(fc.record({ lengthSamples: fc.integer({ min: 1, max: 300 * RATE }), way: fc.constantFrom(...FRAME_WAYS) }));
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 7200 * RATE }), some, some, fc.double({ min: 0, max: 1, noNaN: true }), (talk, opening, closing, at) => {
        const framing = frame(talk, opening, closing);
        expect(framing.talkTo - framing.talkFrom).toBe(talk);
        expect(framing.talkFrom).toBeGreaterThanOrEqual(0);
        expect(framing.closingFrom).toBeGreaterThanOrEqual(0);
        expect(framing.lengthSamples).toBe(Math.max(framing.talkTo, opening?.lengthSamples ?? 0, closing ? framing.closingFrom + closing.lengthSamples : 0));
        const sample = Math.floor(at * framing.lengthSamples);
        const steps = [
          ...(opening && sample < opening.lengthSamples - 1 ? [openingGain(sample + 1, opening, framing, UNDER) - openingGain(sample, opening, framing, UNDER)] : []),
          ...(closing && sample >= framing.closingFrom ? [closingGain(sample + 1, closing, framing, UNDER) - closingGain(sample, closing, framing, UNDER)] : []),
        ];
        for (const step of steps) expect(Math.abs(step)).toBeLessThan(1e-4);
      }),
    );
  });
});
