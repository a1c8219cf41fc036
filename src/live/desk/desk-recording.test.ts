import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { compilePlan } from '@/core/hearing/compile';
import { withSeats } from '@/core/hearing/seats';
import { DEFAULT_HABITS } from '@/core/session/habits';
import { keepSlots, slotsInOrder } from '@/core/hearing/slots';
import type { FromRecorder, LineGap } from '../recorder/messages';
import { beginTakeRecording, type TakeChoices } from '../testing/fake-take-recording';
import { deskData } from '../testing/desk-data';
import { CLOCK, RECORDED_FRAMES, statusBoard, statusBoardBytes } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import { DeskRecording } from './desk-recording';
import type { DeskState } from './desk-state';
import { initialDeskState } from './initial-desk-state';
import { DeskConditions } from './conditions';

vi.mock('../recorder/take-recording', () => import('../testing/fake-take-recording'));

const SECOND = 48_000;

function desk(change: Partial<DeskState> = {}) {
  const data = deskData();
  const store = createStore<DeskState>(() => ({ ...initialDeskState(data), ...change }));
  const board = statusBoard(new SharedArrayBuffer(statusBoardBytes(8, 8)), 8, 8);
  const told: object[] = [];
  let slots = slotsInOrder(data.plan);
  const audio = { board, tell: (message: object) => void told.push(message) } as unknown as AudioDesk;
  const plays = { begin: () => undefined, end: () => Promise.resolve() } as never;
  const recording = new DeskRecording({
    episode: 'e',
    store,
    compiled: () => compilePlan(store.getState().plan, { slots: (slots = keepSlots(slots, store.getState().plan, { sources: 40, listeners: 40 })) }),
    inForce: () => ({ number: 5, plan: store.getState().plan, onAir: store.getState().onAir }),
    signedOut: () => store.setState({ signedOut: true }),
    silentSources: () => [{ source: 'voice:runa', cause: 'not-in-call' }],
    plays,
    conditions: new DeskConditions(store),
  });
  return { store, board, told, audio, recording };
}

describe('the recording of a desk', () => {
  const said: TakeChoices[] = [];
  const last = () => said.at(-1)!;
  const captured = (frames: number, board?: AudioDesk['board']): void => {
    if (board) board.clocks[RECORDED_FRAMES] = frames;
    last().say({ type: 'progress', capturedFrames: frames, keptFrames: frames, safeFrames: [], waiting: null } satisfies FromRecorder);
  };
  beforeEach(() => {
    vi.useFakeTimers();
    said.length = 0;
    beginTakeRecording.hears = (choices) => said.push(choices);
  });
  afterEach(() => {
    vi.useRealTimers();
    beginTakeRecording.fails = null;
  });

  it('stops by itself at the length that was set, and not while it is paused', async () => {
    const { recording, audio, store, board } = desk({ habits: { ...DEFAULT_HABITS, stopAfterMinutes: 1 } });
    await recording.start(audio);
    captured(59 * SECOND, board);
    recording.pause(true);
    captured(60 * SECOND, board);
    expect(last().stopped).toBe(false);
    recording.pause(false);
    captured(60 * SECOND + 512, board);
    expect(last().stopped).toBe(true);
    expect(store.getState().recording?.phase).toBe('finishing');
    last().say({ type: 'sealed', lengthSamples: 60 * SECOND + 512, lostSamples: 0 });
    expect(store.getState()).toMatchObject({ recording: null, lastTake: { id: 'take-1', number: 4, lengthSamples: 60 * SECOND + 512 } });
  });

  it('keeps with the take what was plugged in where, once more whenever that changes, and not before or after', async () => {
    const { recording, audio, store, board } = desk();
    const sent: unknown[] = [];
    vi.stubGlobal('fetch', (url: string, { body }: RequestInit) => {
      if (url.endsWith('/plugs')) sent.push(JSON.parse(body as string));
      return Promise.resolve(new Response(null, { status: 204 }));
    });
    const plug = (offsetMs: number) => store.setState(({ plugged }) => ({ plugged: { ...plugged, choices: { inputs: [], outlets: [{ id: 'o', listener: 'program', device: 'made-up:output:cable-1', channels: 'left', offsetMs }] } } }));
    plug(0);
    await recording.start(audio);
    captured(3 * SECOND, board);
    plug(240);
    captured(4 * SECOND, board);
    last().say({ type: 'sealed', lengthSamples: 4 * SECOND, lostSamples: 0 });
    plug(500);
    await vi.advanceTimersByTimeAsync(100);
    expect(sent).toMatchObject([
      { atSample: 0, outlets: [{ listener: 'program', channels: 'left', offsetMs: 0 }] },
      { atSample: 3 * SECOND, outlets: [{ offsetMs: 240 }] },
    ]);
    vi.unstubAllGlobals();
  });

  it('goes on for as long as the host likes where no length was set', async () => {
    const { recording, audio } = desk();
    await recording.start(audio);
    captured(10 * 3600 * SECOND);
    expect(last().stopped).toBe(false);
  });

  it('tells the recorder of every plan before the audio thread has it, the first one included', async () => {
    const { recording, audio, store, told } = desk();
    await recording.start(audio);
    expect(last().plans).toEqual([5]);
    recording.planInForce({ number: 6, plan: store.getState().plan, onAir: store.getState().onAir });
    expect(last().plans).toEqual([5, 6]);
    recording.pause(true);
    expect(told).toContainEqual({ type: 'pause-recording', paused: true });
  });

  it('gives whoever comes while a take runs a track from there on, and says so only when there is one', async () => {
    const { recording, audio, store, board } = desk();
    await recording.start(audio);
    const before = store.getState().recording!.recorded;
    board.clocks[RECORDED_FRAMES] = 3 * SECOND;
    const come = (id: string) => {
      const { plan, seats } = store.getState();
      const more = [...seats, { ...seats[1], id, name: id, fullName: `${id} of the slipway` }];
      store.setState({ seats: more, plan: withSeats(plan, more), habits: { ...DEFAULT_HABITS, recordMixes: true } });
      recording.followSources();
    };
    come('tide');
    // What is chosen meanwhile is for the next take.
    expect(last().added.map(({ recorded }) => recorded)).toEqual([['voice:tide']]);
    expect(last().added[0].taps.length).toBe(before.length + 1);
    expect(store.getState().recording).toMatchObject({ recorded: before, coming: ['voice:tide'] });
    last().say({ type: 'added', recorded: ['voice:tide'] });
    expect(store.getState().recording).toMatchObject({ recorded: [...before, 'voice:tide'], coming: [] });
    expect(store.getState().recording!.trackNames.at(-1)).toBe('tide of the slipway');
    expect(recording.pinned().has('voice:tide')).toBe(true);
    recording.followSources();
    expect(last().added.length).toBe(1);
    come('late');
    expect(last().added.at(-1)!.recorded).toEqual(['voice:late']);
    expect(last().added.at(-1)!.taps.map(({ slot }) => slot)).toEqual([...new Set(last().added.at(-1)!.taps.map(({ slot }) => slot))]);
  });

  it('has a second track of a voice from where its echo is cancelled in mid-take on, where such tracks are wanted', async () => {
    for (const recordProcessed of [false, true]) {
      const { recording, audio, store } = desk({ habits: { ...DEFAULT_HABITS, recordProcessed } });
      await recording.start(audio);
      store.setState({ cancelling: ['voice:runa'] });
      store.setState({ cancelling: [] });
      store.setState({ cancelling: ['voice:runa'] });
      expect(last().added.map(({ recorded }) => recorded)).toEqual(recordProcessed ? [['processed:runa']] : []);
      expect(recording.pinned().has('voice:runa')).toBe(true);
    }
  });

  it('does not record later what was left out of the take', async () => {
    const { recording, audio, store } = desk({ leftOut: { 'sounds:bed': 'rights' } });
    await recording.start(audio);
    store.setState({ leftOut: {} });
    recording.followSources();
    expect(last().added).toEqual([]);
  });

  it('says that the host has to sign in while nothing is taken for want of it', async () => {
    const { recording, audio, store } = desk();
    await recording.start(audio);
    last().say({ type: 'progress', capturedFrames: 9, keptFrames: 9, safeFrames: [], waiting: { code: 'sign-in', message: 'Sign in first.', passing: true } });
    expect(store.getState()).toMatchObject({ signedOut: true, recording: { waiting: 'Sign in first.' } });
    last().say({ type: 'trouble', message: 'A chunk was refused.' });
    expect(store.getState().conditions.map(({ words }) => words)).toEqual(['A chunk was refused.']);
    expect(store.getState().recording).not.toBeNull();
  });

  it('lists who is not there from the first sample on, and a line that breaks from when its sound was last heard', async () => {
    const { recording, audio, board } = desk();
    await recording.start(audio);
    board.clocks[RECORDED_FRAMES] = 5 * SECOND;
    recording.sourceMedia('voice:runa', true, 0);
    board.clocks[RECORDED_FRAMES] = 9 * SECOND;
    recording.sourceMedia('voice:runa', false, 500);
    recording.sourceMedia('voice:runa', false, 400);
    recording.sourceMedia('voice:maren', false, 0, 'device-late');
    recording.sourceMedia('voice:maren', false, 0, 'device-away');
    board.clocks[RECORDED_FRAMES] = 10 * SECOND;
    recording.sourceMedia('voice:maren', true, 0);
    void recording.stop();
    expect(last().gaps).toEqual([
      { recorded: 'voice:runa', atSample: 0, endSample: 5 * SECOND, cause: 'not-in-call' },
      { recorded: 'voice:runa', atSample: 8.5 * SECOND, endSample: null, cause: 'line-lost' },
      { recorded: 'voice:maren', atSample: 9 * SECOND, endSample: 10 * SECOND, cause: 'device-away' },
    ] satisfies LineGap[]);
  });

  it('takes no gap from what breaks while the last of it is sent, and says where it ended', async () => {
    const { recording, audio, board } = desk();
    await recording.start(audio);
    [board.clocks[CLOCK], board.clocks[RECORDED_FRAMES]] = [30 * SECOND, 10 * SECOND];
    recording.sourceMedia('voice:runa', true, 10_000);
    void recording.stop();
    // The audio thread captures nothing any more, and goes on. One line breaks now, another had before the end.
    [board.clocks[CLOCK], board.clocks[RECORDED_FRAMES]] = [31 * SECOND, 0];
    recording.sourceMedia('voice:maren', false, 500);
    recording.sourceMedia('voice:runa', false, 2000);
    expect(recording.now()).toEqual({ take: 'take-1', sample: 10 * SECOND });
    const { gaps } = last();
    expect(gaps).toContainEqual({ recorded: 'voice:runa', atSample: 9 * SECOND, endSample: null, cause: 'line-lost' });
    for (const gap of gaps.filter(({ recorded }) => recorded === 'voice:maren')) expect(gap.atSample, 'after the end').toBeGreaterThanOrEqual(10 * SECOND);
  });

  it('lets a call end once all of it is captured, however long the server is away, and lists nothing of how the call ended', async () => {
    const { recording, audio, board, store } = desk();
    await recording.start(audio);
    [board.clocks[CLOCK], board.clocks[RECORDED_FRAMES]] = [30 * SECOND, 10 * SECOND];
    recording.sourceMedia('voice:runa', true, 10_000);
    const ended = vi.fn();
    void recording.stop().then(ended);
    // Whoever presses once more ends the same.
    void recording.stop().then(ended);
    await vi.advanceTimersByTimeAsync(1000);
    expect(ended).not.toHaveBeenCalled();
    last().say({ type: 'captured' });
    await vi.advanceTimersByTimeAsync(0);
    expect(ended).toHaveBeenCalledTimes(2);
    recording.letGo();
    const { gaps } = last();
    recording.sourceMedia('voice:runa', false, 500);
    expect(last().gaps).toEqual(gaps);
    expect([store.getState().recording?.phase, recording.now()?.sample]).toEqual(['finishing', 10 * SECOND]);
    last().say({ type: 'sealed', lengthSamples: 10 * SECOND, lostSamples: 0 });
    expect(store.getState()).toMatchObject({ recording: null, lastTake: { lengthSamples: 10 * SECOND } });
  });

  it('stops a take that is only being begun when the call ends', async () => {
    const { recording, audio, store } = desk();
    const starting = recording.start(audio);
    const stopping = recording.stop();
    await starting;
    await vi.advanceTimersByTimeAsync(0);
    expect([last().stopped, store.getState().recording?.phase]).toEqual([true, 'finishing']);
    last().say({ type: 'captured' });
    await stopping;
  });

  it('says why it did not begin, and leaves a take that could not be completed to be dealt with', async () => {
    const { recording, audio, store } = desk();
    beginTakeRecording.fails = 'The server cannot be reached.';
    await recording.start(audio);
    expect(store.getState()).toMatchObject({ recording: null, conditions: [{ words: 'Recording did not start. The server cannot be reached.' }] });
    beginTakeRecording.fails = null;
    await recording.start(audio);
    last().say({ type: 'failed', message: 'The recorder stopped.' });
    expect(store.getState()).toMatchObject({ recording: null, lastTake: null, openTake: { id: 'take-1', number: 4 } });
    expect(store.getState().conditions.at(-1)?.words).toBe('The take could not be completed. The recorder stopped.');
  });

  it('does not begin where everything is left out', async () => {
    const leftOut = Object.fromEntries(['voice:maren', 'voice:runa', 'voice:priya', 'sounds:bed'].map((id) => [id, 'rights']));
    const { recording, audio, store } = desk({ leftOut });
    await recording.start(audio);
    expect(said).toEqual([]);
    expect(store.getState().conditions.map(({ words }) => words)).toEqual(['Recording did not start. Every track is left out; choose at least one in Show settings.']);
  });
});
