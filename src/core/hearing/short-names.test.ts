import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shortNames } from './short-names';

describe('short names', () => {
  it('are the beginnings, told apart by the end or by a number where they must be', () => {
    expect(shortNames(['Maren', 'Odalys', 'Program'], 3)).toEqual(['Mar', 'Oda', 'Pro']);
    expect(shortNames(['Guest 1', 'Guest 2', 'Guest 3'], 3)).toEqual(['Gu1', 'Gu2', 'Gu3']);
    expect(new Set(shortNames(['Runa', 'Runa', 'Runa'], 3)).size).toBe(3);
  });

  it('are all different and fit, whatever the names', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string({ maxLength: 12 }), fc.constantFrom('Ana', 'Anna', 'Annika', 'An', 'Guest 1', 'Guest 11')), { maxLength: 40 }), fc.integer({ min: 3, max: 9 }), (names, most) => {
        const short = shortNames(names, most);
        expect(new Set(short).size).toBe(names.length);
        for (const one of short) expect([...one].length).toBeLessThanOrEqual(most);
      }),
    );
  });
});
