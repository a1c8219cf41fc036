import { describe, expect, it } from 'vitest';
import { createStore } from 'zustand/vanilla';
import type { DeskSeat } from '@/core/session/desk-data';
import { deskData } from '../testing/desk-data';
import { DeskSeats } from './desk-seats';
import type { DeskState, RecordingState } from './desk-state';
import { initialDeskState } from './initial-desk-state';

/** The people of a desk, and what its other parts are told of them. */
function people() {
  const store = createStore<DeskState>(() => initialDeskState(deskData()));
  const told: string[] = [];
  const seats = new DeskSeats(store, { people: (all: DeskSeat[]) => told.push(`people ${all.map(({ id }) => id).join()}`), any: () => told.push('any') });
  return { store, seats, told };
}

describe('the people of an episode', () => {
  it('change the plan when they change, and not when only an invitation does', () => {
    const { store, seats, told } = people();
    const { seats: all } = store.getState();
    seats.set(all, [{ seat: 'runa', expiresAt: '2026-12-01T00:00:00.000Z', openedAt: null }]);
    expect([told, store.getState().invitations.length]).toEqual([['any'], 1]);
    seats.set(all.filter(({ id }) => id !== 'wen'), []);
    expect(told.slice(1)).toEqual(['people maren,runa,priya', 'any']);
    expect(seats.host()).toBe('maren');
  });

  it('get a place after the take that had none for them', () => {
    const { store, seats, told } = people();
    store.setState({ recording: { phase: 'recording' } as RecordingState });
    seats.set([...store.getState().seats, { ...store.getState().seats[1], id: 'tide' }], []);
    told.length = 0;
    store.setState({ recording: null });
    expect(told).toEqual(['people maren,runa,priya,wen,tide', 'any']);
    // Everybody has one now.
    store.setState(({ plan, seats: all }) => ({ recording: { phase: 'recording' } as RecordingState, plan: { ...plan, seats: all } }));
    store.setState({ recording: null });
    expect(told.length).toBe(2);
  });
});
