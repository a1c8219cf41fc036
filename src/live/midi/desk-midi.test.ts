import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import type { MidiMessage, MidiTarget } from '@/core/session/midi-bindings';
import type { DeskState } from '../desk/desk-state';
import { initialDeskState } from '../desk/initial-desk-state';
import { deskData } from '../testing/desk-data';
import { DeskMidi } from './desk-midi';
import { messageOf } from './midi-input';
import { keptConditions } from '../testing/kept-conditions';

const PAD: MidiTarget = { does: 'pad', sound: '3f2d9a52-6f0d-4d0e-9c7a-1a2b3c4d5e6f' };
const COUGH: MidiTarget = { does: 'action', action: 'cough' };
const GAIN: MidiTarget = { does: 'gain', source: 'voice:runa' };
const note = (number: number, value = 100): MidiMessage => ({ message: 'note', channel: 1, number, value });
const fader = (number: number, value: number): MidiMessage => ({ message: 'controller', channel: 1, number, value });

describe('a controller at the desk', () => {
  const store = createStore<DeskState>(() => initialDeskState(deskData()));
  const acted: [MidiTarget, number][] = [];
  const { conditions, said, clear } = keptConditions();
  const kept: unknown[] = [];
  let answer: () => Promise<Response>;
  let midi: DeskMidi;

  beforeEach(() => {
    store.setState(initialDeskState(deskData()));
    acted.length = kept.length = 0;
    clear();
    answer = () => Promise.resolve(Response.json({}));
    vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
      kept.push((JSON.parse(body) as { bindings: unknown }).bindings);
      return answer();
    });
    midi = new DeskMidi({ store, act: (target, { value }) => acted.push([target, value]), conditions });
  });
  afterEach(() => vi.unstubAllGlobals());

  const bindings = () => store.getState().midi.bindings.map(({ number, target }) => [number, target.does]);

  it('learns from the press that follows, and does from then on what it learnt', () => {
    midi.learn(PAD);
    // The finger that still lay on another key.
    midi.take(note(40, 0));
    expect(store.getState().midi.learning).toEqual(PAD);
    midi.take(note(36));
    expect(store.getState().midi).toMatchObject({ learning: null, last: note(36) });
    expect(acted).toEqual([]);
    midi.take(note(36));
    midi.take(note(36, 0));
    midi.take(note(37));
    expect(acted).toEqual([
      [PAD, 100],
      [PAD, 0],
    ]);
    expect(kept.length).toBe(1);
  });

  it('binds a level to a fader only, and a press to a key only', () => {
    midi.learn(GAIN);
    midi.take(note(36));
    expect(bindings()).toEqual([]);
    midi.take(fader(7, 64));
    expect(bindings()).toEqual([[7, 'gain']]);
    midi.learn(COUGH);
    midi.take(fader(8, 64));
    expect(store.getState().midi.learning).toEqual(COUGH);
    midi.learn(null);
    midi.take(fader(7, 90));
    expect(acted).toEqual([[GAIN, 90]]);
  });

  it('gives a key one meaning and a meaning one key', () => {
    for (const [target, number] of [[PAD, 36], [COUGH, 36], [COUGH, 38]] as const) {
      midi.learn(target);
      midi.take(note(number));
    }
    expect(bindings()).toEqual([[38, 'action']]);
    midi.forget(store.getState().midi.bindings[0]);
    midi.take(note(38));
    expect(acted).toEqual([]);
  });

  it('goes back to what it knew when the server does not keep it', async () => {
    midi.learn(PAD);
    midi.take(note(36));
    answer = () => Promise.resolve(Response.json({ code: 'no', message: 'Not yours.' }, { status: 403 }));
    midi.learn(COUGH);
    midi.take(note(38));
    await vi.waitFor(() => expect(said()).toEqual(['What the controller does was not kept. Not yours.']));
    expect(bindings()).toEqual([[36, 'pad']]);
    answer = () => Promise.resolve(Response.json({}));
    midi.learn(COUGH);
    midi.take(note(39));
    await vi.waitFor(() => expect(said(), 'over as soon as something was kept').toEqual([]));
  });

  it('reads channel messages as the standard writes them: a note on without force is a note off', () => {
    expect(messageOf(0x92, 60, 1)).toEqual({ message: 'note', channel: 3, number: 60, value: 1 });
    expect(messageOf(0x92, 60, 0)).toEqual(messageOf(0x82, 60, 77));
    expect(messageOf(0xbf, 7, 127)).toEqual({ message: 'controller', channel: 16, number: 7, value: 127 });
    for (const other of [0xa0, 0xc0, 0xd0, 0xe0, 0xf8]) expect(messageOf(other, 1, 2)).toBeNull();
  });
});
