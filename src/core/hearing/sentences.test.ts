import { describe, expect, it } from 'vitest';
import { setCrosspoint, setSource } from './edit';
import { listInWords, placeName, someInWords } from './names';
import { NOTHING_ON_AIR } from './on-air';
import { createPlan, listenersOf, sourcesOf, type HearingPlan, type Seat } from './plan';
import { crosspointSentence, heardBySentence, hearsSentence } from './sentences';

const seat = (id: string, name: string, role: Seat['role'], reflexive: Seat['reflexive']): Seat => ({ id, name, role, line: 'practice', reflexive });
const plan = createPlan(
  [seat('maren', 'Maren', 'host', 'herself'), seat('odalys', 'Odalys', 'caller', 'herself'), seat('tomasz', 'Tomasz', 'caller', 'himself')],
  [{ id: 'bed', name: 'Bed' }],
  [{ id: 'stream', name: 'Stream' }],
);
const listener = (p: HearingPlan, id: string) => listenersOf(p).find((one) => one.id === id)!;
const source = (p: HearingPlan, id: string) => sourcesOf(p).find((one) => one.id === id)!;

describe('a listener in words', () => {
  it('names those at full level first, the others with theirs, and who is never among them', () => {
    const quieter = setCrosspoint(plan, 'sounds:bed', 'return:odalys', { open: true, gainDb: -6 });
    expect(hearsSentence(quieter, listener(quieter, 'return:odalys'))).toBe('Odalys hears Maren, Tomasz and the bed at −6 dB; never herself.');
    expect(hearsSentence(plan, listener(plan, 'phones:maren'))).toBe('Maren’s phones carry Odalys, Tomasz and the bed.');
    expect(hearsSentence(plan, listener(plan, 'feed:stream'))).toBe('The feed “Stream” carries Maren, Odalys, Tomasz and the bed.');
  });
  it('says what is really in the phones while they borrow, and that a waiting caller hears nothing', () => {
    const onAir = { ...NOTHING_ON_AIR, listenTo: { source: 'voice:tomasz' as const } };
    expect(hearsSentence(plan, listener(plan, 'phones:maren'), onAir)).toBe('Maren’s phones carry Tomasz.');
    const waiting = { ...plan, waiting: ['tomasz'] };
    expect(hearsSentence(waiting, listener(waiting, 'return:tomasz'))).toBe('Tomasz hears nothing; never himself.');
  });
});

describe('a source in words', () => {
  it('names who hears it, or that nobody does', () => {
    expect(heardBySentence(plan, source(plan, 'voice:odalys'))).toBe('Odalys is heard by Maren, Tomasz, the program and the feed “Stream”.');
    const off = setSource(plan, 'sounds:bed', { on: false });
    expect(heardBySentence(off, source(off, 'sounds:bed'))).toBe('Nobody hears the bed.');
  });
});

describe('a crosspoint in words', () => {
  it('tells rule from hand, and what can never be lit', () => {
    const cell = (p: HearingPlan, from: string, to: string) => crosspointSentence(p, source(p, from), listener(p, to));
    expect(cell(plan, 'voice:maren', 'program')).toBe('Maren is heard at 0 dB in the program, as the rule says.');
    const closed = setCrosspoint(plan, 'voice:maren', 'program', { open: false, gainDb: 0 });
    expect(cell(closed, 'voice:maren', 'program')).toBe('Maren is not heard in the program, changed by hand; the rule says 0 dB.');
    expect(cell(plan, 'voice:odalys', 'return:odalys')).toBe('Odalys’s own voice has no place in Odalys’s return.');
    expect(cell(plan, 'talkback:maren', 'program')).toBe('Maren’s talkback is private and stays out of the program.');
  });
});

describe('names', () => {
  it('are joined as one says them, and no more than one can take in', () => {
    expect(listInWords([])).toBe('');
    expect(listInWords(['a'])).toBe('a');
    expect(listInWords(['a', 'b', 'c'])).toBe('a, b and c');
    expect(someInWords(['a', 'b', 'c', 'd', 'e'])).toBe('a, b, c, d and e');
    expect(someInWords(['a', 'b', 'c', 'd', 'e', 'f', 'g'])).toBe('a, b, c, d and 3 others');
  });
  it('of places are a host’s words', () => {
    expect(['ears:tomasz', 'return:odalys', 'program', 'voice:maren'].map((id) => placeName(plan, id))).toEqual([
      'Tomasz’s ears',
      'Odalys’s return',
      'the program',
      'Maren',
    ]);
  });
});
