import { describe, expect, it } from 'vitest';
import { LINE_STATE_WORDS } from './line-state';
import { pairStateOf, type PairFacts } from './pair-state';

const FINE: PairFacts = { input: 'open', output: 'open', looped: false, everHeard: true, flowing: true, waiting: false, running: true };

describe('the state of a pair line', () => {
  it.each<[string, Partial<PairFacts>]>([
    ['live', {}],
    ['silent', { everHeard: false }],
    ['waiting', { waiting: true }],
    ['lost', { flowing: false }],
    ['away', { input: 'away', flowing: false }],
    ['away', { output: 'away' }],
    ['refused', { input: 'refused' }],
    ['one-end', { output: 'none' }],
    ['unplugged', { input: 'none', output: 'none' }],
    ['plugged', { running: false, everHeard: false }],
    ['looped', { looped: true, input: 'away' }],
  ])('is %s when %j', (state, facts) => {
    expect(pairStateOf({ ...FINE, ...facts })).toBe(state);
    expect(LINE_STATE_WORDS[pairStateOf({ ...FINE, ...facts })]).toMatch(/\w/);
  });
});
