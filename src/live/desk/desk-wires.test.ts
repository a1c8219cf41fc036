import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compilePlan } from '@/core/hearing/compile';

import { arbitraryPlan } from '@/core/testing/arbitrary-plan';
import { sourceOfLine } from '@/core/hearing/seats';
import { deskData } from '../testing/desk-data';
import { wiresOf } from './desk-wires';

const MOST_LINES = 8;

describe('the wires of the audio thread', () => {
  it('send no line what it brings, whatever the plan', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.infiniteStream(fc.integer({ min: 0, max: MOST_LINES - 1 })), (plan, places) => {
        const free = [...new Set(places.take(40))];
        const lines = plan.seats.filter(({ role }) => role !== 'host').flatMap((seat) => (free.length > 0 ? [{ seat, place: free.shift()! }] : []));
        const compiled = compilePlan(plan);
        const { inputs, outputs } = wiresOf(compiled, { hostSeat: 'host', microphone: true, share: true, lines }, MOST_LINES);
        for (const { seat, place } of lines) {
          const [input, output] = [inputs[1 + place], outputs[1 + place]];
          expect(compiled.sourceIds[input]).toBe(sourceOfLine(seat));
          const heard = [...compiled.source.subarray(compiled.first[output], compiled.first[output + 1])];
          expect(heard).not.toContain(input);
        }
        // No source is fed twice, and no mix but the program, which all producers hear, is sent to two lines.
        const heard = outputs.filter((slot) => compiled.listenerIds[slot] !== 'program');
        for (const wires of [inputs, heard]) {
          const used = wires.filter((slot) => slot >= 0);
          expect(new Set(used).size).toBe(used.length);
        }
      }),
    );
  });

  it('leave open what is not plugged in', () => {
    const { plan } = deskData();
    const wires = wiresOf(compilePlan(plan), { hostSeat: 'maren', microphone: false, share: false, lines: [] }, MOST_LINES);
    expect(wires.inputs).toEqual(new Array(MOST_LINES + 2).fill(-1));
    expect(wires.outputs.filter((slot) => slot >= 0)).toHaveLength(1);
  });

  it('bring a producer’s microphone to the talkback and the program to the producer', () => {
    const { plan, seats } = deskData();
    const compiled = compilePlan(plan);
    const wires = wiresOf(compiled, { hostSeat: 'maren', microphone: true, share: false, lines: [{ seat: seats[3], place: 2 }] }, MOST_LINES);
    expect(compiled.sourceIds[wires.inputs[3]]).toBe('talkback:wen');
    expect(compiled.listenerIds[wires.outputs[3]]).toBe('program');
  });
});
