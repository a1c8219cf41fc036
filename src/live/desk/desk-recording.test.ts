import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { compilePlan } from '@/core/hearing/compile';
import type { FromRecorder, LineGap } from '../recorder/messages';
import { beginTakeRecording, type TakeChoices } from '../testing/fake-take-recording';
import { deskData } from '../testing/desk-data';
import { PAUSED_FRAMES, RECORDED_FRAMES, statusBoard, statusBoardBytes } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import { DeskRecording } from './desk-recording';
import { initialDeskState, type DeskState } from './desk-state';

vi.mock('../recorder/take-recording', () => import('../testing/fake-take-recording'));

const SECOND = 48_000;

function desk(change: Partial<DeskState> = {}) {
  const data = deskData();
  const store = createStore<DeskState>(() => ({ ...initialDeskState(data), ...change }));
  const board = statusBoard(new SharedArrayBuffer(statusBoardBytes(8, 8)), 8, 8);
  const told: object[] = [];
  const audio = { board, tell: (message: object) => void told.push(message) } as unknown as AudioDesk;
  const plays = { begin: () => undefined, beforeEnd: () => undefined, end: () => Promise.resolve() } as never;
  const recording = new DeskRecording({
    episode: 'e',
    store,
    compiled: () => compilePlan(store.getState().plan),
    silentSeats: () => ['runa'],
    plays,
    trouble: (sentence) => store.setState(({ troubles }) => ({ troubles: [...troubles, sentence] })),
  });
  return { store, board, told, audio, recording };
}

describe('the recording of a desk', () => {
  const said: TakeChoices[] = [];
  const last = () => said.at(-1)!;
  const captured = (frames: number, board?: AudioDesk['board'], pausedFrames = 0): void => {
    if (board) Object.assign(board.clocks, { [RECORDED_FRAMES]: frames, [PAUSED_FRAMES]: pausedFrames });
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
    const { recording, audio, store, board } = desk({ stopAfterMinutes: 1 });
    await recording.start(audio);
    captured(59 * SECOND, board);
    recording.pause(true);
    captured(60 * SECOND, board, 200);
    expect(last().stopped).toBe(false);
    recording.pause(false);
    captured(60 * SECOND + 512, board, 200);
    expect(last().stopped).toBe(true);
    expect(store.getState().recording?.phase).toBe('finishing');
    last().say({ type: 'sealed', lengthSamples: 60 * SECOND + 512, lostSamples: 0 });
    expect(store.getState()).toMatchObject({ recording: null, lastTake: { id: 'take-1', number: 4, lengthSamples: 60 * SECOND + 512 } });
  });

  it('goes on for as long as the host likes where no length was set', async () => {
    const { recording, audio } = desk();
    await recording.start(audio);
    captured(10 * 3600 * SECOND);
    expect(last().stopped).toBe(false);
  });

  it('measures each pause once, where the audio thread says it was', async () => {
    const { recording, audio, board, told } = desk();
    await recording.start(audio);
    captured(SECOND, board);
    recording.pause(true);
    expect(told).toContainEqual({ type: 'pause-recording', paused: true });
    captured(SECOND + 256, board, 9600);
    recording.pause(false);
    captured(2 * SECOND, board, 24_000);
    recording.pause(true);
    recording.pause(true);
    captured(2 * SECOND + 128, board, 24_000 + 4800);
    void recording.stop();
    expect(last().pauses).toEqual([
      { atSample: SECOND + 256, lengthSamples: 24_000 },
      { atSample: 2 * SECOND + 128, lengthSamples: 4800 },
    ]);
  });

  it('lists who is not there from the first sample on, and a line that breaks from when its sound was last heard', async () => {
    const { recording, audio, board } = desk();
    await recording.start(audio);
    board.clocks[RECORDED_FRAMES] = 5 * SECOND;
    recording.lineMedia('runa', true, 0);
    board.clocks[RECORDED_FRAMES] = 9 * SECOND;
    recording.lineMedia('runa', false, 500);
    recording.lineMedia('runa', false, 400);
    void recording.stop();
    expect(last().gaps).toEqual([
      { recorded: 'voice:runa', atSample: 0, endSample: 5 * SECOND, cause: 'not-in-call' },
      { recorded: 'voice:runa', atSample: 8.5 * SECOND, endSample: null, cause: 'line-lost' },
    ] satisfies LineGap[]);
  });

  it('says why it did not begin, and leaves a take that could not be completed to be dealt with', async () => {
    const { recording, audio, store } = desk();
    beginTakeRecording.fails = 'The server cannot be reached.';
    await recording.start(audio);
    expect(store.getState()).toMatchObject({ recording: null, troubles: ['Recording did not start. The server cannot be reached.'] });
    beginTakeRecording.fails = null;
    await recording.start(audio);
    last().say({ type: 'failed', message: 'The recorder stopped.' });
    expect(store.getState()).toMatchObject({ recording: null, lastTake: null, openTake: { id: 'take-1', number: 4 } });
    expect(store.getState().troubles.at(-1)).toBe('The take could not be completed. The recorder stopped.');
  });

  it('does not begin where everything is left out', async () => {
    const leftOut = Object.fromEntries(['voice:maren', 'voice:runa', 'voice:priya', 'sounds:bed'].map((id) => [id, 'rights']));
    const { recording, audio, store } = desk({ leftOut });
    await recording.start(audio);
    expect(said).toEqual([]);
    expect(store.getState().troubles).toEqual(['Recording did not start. Every track is left out; arm at least one in Prepare.']);
  });
});
