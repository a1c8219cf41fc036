import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { COMPUTER_SHARE } from '@/core/hearing/computer-share';
import { deskData } from '../testing/desk-data';
import { initialDeskState } from './initial-desk-state';
import { HandsOnAir } from './hands-on-air';

function hands() {
  const store = createStore(() => initialDeskState(deskData()));
  const talking: (string | null)[] = [];
  let applied = 0;
  const on = new HandsOnAir(store, { apply: () => void applied++, talk: (seat) => talking.push(seat), hostSeat: () => 'maren' });
  return { store, on, talking, applied: () => applied, now: () => store.getState().onAir };
}

describe('hands on air', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('forget to listen for the host: a listening ends by itself, counted from the last press', () => {
    const { on, now, store } = hands();
    store.setState(({ habits }) => ({ habits: { ...habits, listenSeconds: 10 } }));
    on.listenTo({ source: 'voice:priya' });
    vi.advanceTimersByTime(9000);
    on.hearAs('return:runa');
    vi.advanceTimersByTime(9000);
    expect(now().listenTo).toEqual({ listener: 'return:runa' });
    expect(store.getState().listeningUntil).not.toBeNull();
    vi.advanceTimersByTime(1100);
    expect(now().listenTo).toBeNull();
    expect(store.getState().listeningUntil).toBeNull();
  });

  it('cough for one voice without another, and let go of all that is held when the window loses its keys', () => {
    const { on, now, talking, applied } = hands();
    on.cough('voice:maren', { callers: true, program: false });
    on.cough('voice:priya', { callers: true, program: true });
    on.cough('voice:maren', null);
    expect(now().cough).toEqual({ 'voice:priya': { callers: true, program: true } });
    on.talkTo(['return:runa']);
    on.talkWith('return:priya', true);
    on.talkWith('return:runa', false);
    expect(now().talk).toEqual({ from: 'talkback:maren', to: ['return:priya'] });
    on.releaseHeld();
    expect(now()).toMatchObject({ talk: null, cough: {} });
    // The microphone went to the talkback and, at the end, back to the call.
    expect(talking[0]).toBe('maren');
    expect(talking.at(-1)).toBeNull();
    expect(applied()).toBe(8);
  });

  it('keep apart who talks privately, and hold a source until it is let go', () => {
    const { on, now } = hands();
    on.sideTalk('wen', ['return:runa']);
    on.talkTo(['return:priya']);
    on.hold(COMPUTER_SHARE, true);
    on.hold(COMPUTER_SHARE, true);
    expect(now().held).toEqual([COMPUTER_SHARE]);
    on.sideTalk('wen', []);
    expect(now()).toMatchObject({ sideTalk: [], talk: { from: 'talkback:maren' } });
    on.setTalkDim(20);
    on.rest();
    expect(now()).toMatchObject({ talk: null, held: [], listenTo: null, talkDimDb: 20 });
  });
});
