import { describe, expect, it } from 'vitest';
import { findActions } from './find-action';

const actions = ['Record', 'Talk to Odalys', 'Talk to all callers', 'Play Opening theme', 'Stop recording', 'Go to Hearing'].map((name) => ({ name }));
const found = (typed: string) => findActions(actions, typed).map(({ name }) => name);

describe('finding an action by what is typed', () => {
  it('takes beginnings of words in any order', () => {
    expect(found('ta od')).toEqual(['Talk to Odalys']);
    expect(found('theme pl')).toEqual(['Play Opening theme']);
    expect(found('TALK')).toEqual(['Talk to Odalys', 'Talk to all callers']);
    expect(found('alk')).toEqual([]);
  });

  it('puts first what begins as it was typed, and gives everything for nothing', () => {
    expect(found('rec')).toEqual(['Record', 'Stop recording']);
    expect(found('  ')).toEqual(actions.map(({ name }) => name));
  });
});
