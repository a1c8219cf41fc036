import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bind, boundTo, controllerGainDb, midiBindingsSchema, type MidiBinding, type MidiMessage, type MidiTarget } from './midi-bindings';

const message: fc.Arbitrary<MidiMessage> = fc.record({ message: fc.constantFrom('note', 'controller'), channel: fc.integer({ min: 1, max: 3 }), number: fc.integer({ min: 0, max: 4 }), value: fc.constant(100) });
const target: fc.Arbitrary<MidiTarget> = fc.constantFrom<MidiTarget>({ does: 'gain', source: 'sounds:bed' }, { does: 'action', action: 'undo' }, { does: 'pad', sound: '4e0a2c9e-8a51-4b3f-9d0e-0d4a5f2b7c11' });

describe('what a controller does', () => {
  it('is what was learned last: one thing a control, one control a thing', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(message, target), { minLength: 1, maxLength: 20 }), (lessons) => {
        const learned = lessons.reduce<MidiBinding[]>((bindings, [what, does]) => bind(bindings, what, does), []);
        const [last, does] = lessons.at(-1)!;
        expect(boundTo(learned, last)).toEqual(does);
        expect(new Set(learned.map((one) => JSON.stringify(one.target))).size).toBe(learned.length);
        expect(new Set(learned.map(({ message: kind, channel, number }) => `${kind} ${channel} ${number}`)).size).toBe(learned.length);
        expect(midiBindingsSchema.parse(learned)).toEqual(learned);
      }),
    );
  });

  it('rides a level over its whole way, evenly upwards, with 0 dB at 100', () => {
    const way = Array.from({ length: 128 }, (_, value) => controllerGainDb(value));
    expect([way[0], way[100], way[127]]).toEqual([-60, 0, 12]);
    for (let value = 1; value < 128; value++) expect(way[value]).toBeGreaterThanOrEqual(way[value - 1]);
  });
});
