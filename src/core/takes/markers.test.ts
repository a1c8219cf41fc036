import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { markersAsVtt, type TakeMarker } from './markers';

const marker = (atSample: number, name: string, lengthSamples = 0): TakeMarker => ({ id: crypto.randomUUID(), atSample, lengthSamples, name });

describe('markers as WebVTT', () => {
  it('have their times to the millisecond, past an hour as well', () => {
    expect(markersAsVtt([marker(12_000, 'Chain'), marker(48_000 * 3725 + 24, 'Rust & rain', 48_000)])).toBe(
      'WEBVTT\n\n00:00:00.250 --> 00:00:05.250\nChain\n\n01:02:05.001 --> 01:02:06.001\nRust &amp; rain\n',
    );
  });
  it('cannot end a cue or begin another, whatever they are called', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'binary', minLength: 1, maxLength: 120 }), { maxLength: 6 }), (names) => {
        const text = markersAsVtt(names.map((name, k) => marker(k * 48_000, name)));
        expect(text.split('\n').filter((line) => line.includes('-->'))).toHaveLength(names.length);
      }),
    );
  });
});
