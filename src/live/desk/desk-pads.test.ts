import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { dbToGain } from '@/core/dsp/decibels';
import type { DeskPad } from '@/core/session/desk-data';
import { wholeSound } from '@/core/sounds/sound-edit';
import { deskData } from '../testing/desk-data';
import type { ToMixWorklet } from '../worklet/messages';
import { CUE_POSITION, statusBoard, statusBoardBytes } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import { DeskPads } from './desk-pads';
import { initialDeskState } from './initial-desk-state';
import { loadChannels } from './sound-files';
import { DeskConditions } from './conditions';

vi.mock('./sound-files', () => ({ loadChannels: vi.fn() }));

const LENGTH = 4800;
const pad = (sound: string, change: Partial<DeskPad> = {}): DeskPad => ({
  sound,
  player: 'effects',
  credit: '',
  key: '',
  mode: 'once',
  again: 'restart',
  group: null,
  levelDb: 0,
  name: sound,
  kind: 'sting',
  gainDb: 0,
  edit: wholeSound(LENGTH),
  ...change,
});

function board(pads: DeskPad[]) {
  const store = createStore(() => initialDeskState({ ...deskData(), pads }));
  const told: ToMixWorklet[] = [];
  const audio = { context: {}, board: statusBoard(new SharedArrayBuffer(statusBoardBytes(4, 4)), 4, 4), tell: (message: ToMixWorklet) => void told.push(message) } as unknown as AudioDesk;
  const deskPads = new DeskPads({ episode: 'e', store, conditions: new DeskConditions(store) });
  const of = <Type extends ToMixWorklet['type']>(type: Type) => told.filter((message): message is Extract<ToMixWorklet, { type: Type }> => message.type === type);
  return { store, told, audio, pads: deskPads, of };
}

describe('the pads of a desk', () => {
  beforeEach(() => {
    vi.useFakeTimers();
    vi.mocked(loadChannels).mockReset();
    vi.mocked(loadChannels).mockImplementation(() => Promise.resolve([new Float32Array(LENGTH), new Float32Array(LENGTH)]));
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('that share a key start on the same sample, each at its own level, and silence their group', async () => {
    const { pads, audio, of } = board([pad('bell', { key: '5', levelDb: -6, gainDb: 2 }), pad('drum', { key: '5', group: 'beats' }), pad('loop', { group: 'beats', mode: 'loop' })]);
    await pads.open(audio);
    pads.pressKey('5');
    pads.pressKey('5');
    await vi.advanceTimersByTimeAsync(0);
    expect(of('press-sounds')).toHaveLength(1);
    const [{ presses }] = of('press-sounds');
    expect(presses.map(({ id, others }) => [id, others])).toEqual([['bell', []], ['drum', ['loop']]]);
    expect(presses[0].gain).toBeCloseTo(dbToGain(-4), 6);
  });

  it('that are held stop when they are let go; others do not', async () => {
    const { pads, audio, of } = board([pad('tone', { key: 'h', mode: 'hold' }), pad('bell', { key: 'h' })]);
    await pads.open(audio);
    pads.pressKey('h');
    pads.releaseKey('h');
    expect(of('stop-sound').map(({ id }) => id)).toEqual(['tone']);
  });

  it('do not hold up a call that has many: they can be played as they come, and say so until then', async () => {
    const come: (() => void)[] = [];
    vi.mocked(loadChannels).mockImplementation(() => new Promise((resolve) => come.push(() => resolve([new Float32Array(LENGTH), new Float32Array(LENGTH)]))));
    const { pads, audio, store, of } = board(['a', 'b', 'c'].map((name) => pad(name)));
    const opened = pads.open(audio);
    await vi.advanceTimersByTimeAsync(2600);
    await opened;
    expect(come).toHaveLength(2);
    pads.press('c');
    expect(store.getState().conditions.map(({ words }) => words)).toEqual(['c is still being loaded.']);
    for (let k = 0; k < 3; k++) {
      come[k]();
      await vi.advanceTimersByTimeAsync(0);
    }
    expect(store.getState().conditions, 'it is there now').toEqual([]);
    pads.press('c');
    await vi.advanceTimersByTimeAsync(0);
    expect(of('press-sounds').at(-1)!.presses[0].id).toBe('c');
    // Their places on the status board are the order they came in.
    expect(of('add-sound').map(({ id, place }) => [id, place])).toEqual([['a', 0], ['b', 1], ['c', 2]]);
  });

  it('say which cannot be played, and leave the others', async () => {
    vi.mocked(loadChannels).mockImplementationOnce(() => Promise.reject(new Error('The file is damaged.')));
    const { pads, audio, store } = board([pad('broken'), pad('bell')]);
    await pads.open(audio);
    expect(store.getState().conditions.map(({ words }) => words)).toEqual(['broken cannot be played. The file is damaged.']);
    expect([pads.isLoaded('broken'), pads.isLoaded('bell')]).toEqual([false, true]);
  });

  it('are heard by the host alone while they listen first, and that is forgotten at the end of the sound', async () => {
    const { pads, audio, store, of } = board([pad('bell', { key: '5' })]);
    await pads.open(audio);
    pads.setListenFirst(true);
    pads.pressKey('5');
    await vi.advanceTimersByTimeAsync(0);
    expect(of('press-sounds')).toEqual([]);
    expect(of('cue-sound')).toMatchObject([{ id: 'bell' }]);
    audio.board.clocks[CUE_POSITION] = -1;
    pads.noticeCueEnd();
    expect(store.getState().cued).toBe('bell');
    await vi.advanceTimersByTimeAsync(300);
    pads.noticeCueEnd();
    expect(store.getState().cued).toBeNull();
  });

  it('take the theme under the talk, else the beds, else say that nothing plays', async () => {
    const { pads, audio, store, of } = board([pad('bed', { kind: 'bed' }), pad('theme', { kind: 'theme' })]);
    await pads.open(audio);
    audio.board.soundPosition.fill(-1);
    pads.underTalk();
    expect(store.getState().conditions.map(({ words }) => words)).toEqual(['No theme and no bed plays: there is nothing to take under the talk.']);
    audio.board.soundPosition[0] = 100;
    pads.underTalk();
    audio.board.soundPosition[1] = 100;
    pads.underTalk();
    expect(of('take-under').map(({ ids }) => ids)).toEqual([['bed'], ['theme']]);
  });

  it('are arranged one change after another, each on what the last one made', async () => {
    const { pads, audio, store } = board([pad('a'), pad('b')]);
    await pads.open(audio);
    vi.stubGlobal('fetch', async (_: string, { body }: { body: string }) => {
      await new Promise((resolve) => setTimeout(resolve, 50));
      const asked = (JSON.parse(body) as { pads: { sound: string; key: string }[] }).pads;
      return Response.json(asked.map((one) => pad(one.sound, one)));
    });
    void pads.arrange((now) => [...now].reverse());
    void pads.arrange((now) => now.map((one, k) => ({ ...one, key: String(k + 1) })));
    await vi.advanceTimersByTimeAsync(200);
    expect(store.getState().pads.map(({ sound, key }) => [sound, key])).toEqual([['b', '1'], ['a', '2']]);
  });
});
