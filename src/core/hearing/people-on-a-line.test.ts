import { describe, expect, it } from 'vitest';
import { createPlan, listenersOf, sourcesOf, type Seat } from './plan';
import { hearsSentence, heardBySentence } from './sentences';
import { seatOfPlan, withSeats } from './seats';

const seat = (id: string, role: Seat['role'], people: string[] = []) => ({ id, name: id, role, line: 'pair' as const, reflexive: 'themselves' as const, people });
const SEATS = [seat('Maren', 'host'), seat('Harbour', 'caller', ['Ines', 'Anselm']), seat('Priya', 'caller')];
const PLAN = createPlan(SEATS.map(seatOfPlan));

describe('several people on one line', () => {
  it('have one return, in which the whole line is absent, and are named in it', () => {
    const listener = listenersOf(PLAN).find(({ id }) => id === 'return:Harbour')!;
    expect(hearsSentence(PLAN, listener)).toBe('Harbour (Ines and Anselm) hear Maren and Priya; each other in their own program, never from here.');
    const source = sourcesOf(PLAN).find(({ id }) => id === 'voice:Harbour')!;
    expect(heardBySentence(PLAN, source)).toMatch(/^Harbour \(Ines and Anselm\) are heard by Maren, Priya and the program/);
  });

  it('are one person again when the others leave the line', () => {
    const alone = withSeats(PLAN, [SEATS[0], seat('Harbour', 'caller'), SEATS[2]].map(seatOfPlan));
    expect(alone.seats[1]).not.toHaveProperty('people');
    expect(hearsSentence(alone, listenersOf(alone)[1])).toBe('Harbour hears Maren and Priya; never themselves.');
  });
});
