import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mapChannels, INPUT_CHANNELS, type ListedDevice } from './device';
import { cableOf, devicesAfter, farEndOf, namesOf, NO_DEVICES, type Devices } from './known-devices';

let number = 0;
const newKey = () => `key-${++number}`;
const input = (id: string, label: string, group = ''): ListedDevice => ({ id, kind: 'input', label, group });
const output = (id: string, label: string, group = ''): ListedDevice => ({ id, kind: 'output', label, group });
const after = (before: Devices, ...listed: ListedDevice[]) => devicesAfter(before, listed, newKey);

describe('what is known of a computer’s devices', () => {
  it('does not take the system’s own entries for devices, and says what they stand for', () => {
    const { known, defaults } = after(NO_DEVICES, input('default', 'Default', 'g1'), input('communications', 'Communications', 'g1'), input('a', 'Desk microphone', 'g1'), output('default', 'Default - Headset'), output('b', 'Headset'));
    expect(known.map(({ label }) => label)).toEqual(['Desk microphone', 'Headset']);
    expect(defaults).toEqual({ input: known[0].key, output: known[1].key });
  });

  it('keeps who is gone as away, and knows it again by its id, or by its label when the id is new', () => {
    const first = after(NO_DEVICES, input('a', 'Desk microphone'), input('b', 'Phone box'));
    const [microphone, box] = first.known.map(({ key }) => key);
    const gone = after(first, input('b', 'Phone box'));
    expect(gone.known.map(({ here }) => here)).toEqual([false, true]);
    expect(after(gone, input('a', 'Desk microphone'), input('b', 'Phone box')).known.map(({ key, here }) => [key, here])).toEqual([[microphone, true], [box, true]]);
    const renewed = after(gone, input('a2', 'Desk microphone'), input('b', 'Phone box'));
    expect(renewed.known.map(({ key, id }) => [key, id])).toEqual([[microphone, 'a2'], [box, 'b']]);
  });

  it('guesses nothing where two of one label could be meant', () => {
    const gone = after(after(NO_DEVICES, input('a', 'USB audio'), input('b', 'USB audio')));
    const back = after(gone, input('c', 'USB audio'));
    expect(back.known.filter(({ here }) => here)).toHaveLength(1);
    expect(back.known).toHaveLength(3);
    expect([...namesOf(back.known).values()]).toEqual(['USB audio', 'USB audio (2)', 'USB audio (3)']);
  });

  it('forgets nothing when the browser hides its list, and is the same object while nothing changes', () => {
    const first = after(NO_DEVICES, input('a', 'Desk microphone'));
    expect(after(first, input('a', 'Desk microphone'))).toBe(first);
    expect(after(first, input('', '')).known.map(({ here }) => here)).toEqual([false]);
  });

  it('never gives one key to two devices, whatever comes and goes', () => {
    const device = fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd'), kind: fc.constantFrom('input' as const, 'output' as const), label: fc.constantFrom('', 'x', 'y'), group: fc.constantFrom('', 'g') });
    const list = fc.uniqueArray(device, { selector: ({ id, kind }) => `${kind}/${id}`, maxLength: 6 });
    fc.assert(
      fc.property(fc.array(list, { maxLength: 8 }), (lists) => {
        let devices = NO_DEVICES;
        for (const listed of lists) {
          devices = devicesAfter(devices, listed, newKey);
          expect(new Set(devices.known.map(({ key }) => key)).size).toBe(devices.known.length);
          const here = devices.known.filter((one) => one.here);
          expect(here.map(({ id, kind }) => `${kind}/${id}`).sort()).toEqual(listed.map(({ id, kind }) => `${kind}/${id}`).sort());
        }
      }),
    );
  });

  it('knows the two ends of a cable by what their labels have in common, and no headset for one', () => {
    const { known } = after(NO_DEVICES, input('a', 'Cable one (in)'), output('b', 'Cable one'), input('c', 'Virtual Cable 2 Output'), output('d', 'Virtual Cable 2 Input'), input('e', 'USB Headset'), output('f', 'USB Headset'));
    expect(known.map((one) => farEndOf(one, known)?.id ?? null)).toEqual(['b', 'a', 'd', 'c', null, null]);
    expect(cableOf({ label: 'Built-in Audio' })).toBeNull();
  });
});

describe('channels of an input', () => {
  it.each(INPUT_CHANNELS)('%s', (channels) => {
    const [left, right] = [Float32Array.of(0.5, -0.25), Float32Array.of(0.125, 0.75)];
    mapChannels(channels, left, right, 2);
    const expected = { stereo: [0.5, 0.125], left: [0.5, 0.5], right: [0.125, 0.125], both: [0.3125, 0.3125], swapped: [0.125, 0.5] }[channels];
    expect([left[0], right[0]]).toEqual(expected);
  });
});
