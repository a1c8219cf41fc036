import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { LoopFound } from '@/core/echo/loop-guard';
import type { DeskState } from '../desk/desk-state';
import { initialDeskState } from '../desk/initial-desk-state';
import type { AudioDesk } from '../desk/audio-desk';
import type { HandsOnAir } from '../desk/hands-on-air';
import { deskData } from '../testing/desk-data';
import type { Patchbay } from '../patch/patchbay';
import type { ToMixWorklet } from '../worklet/messages';
import { DeskShare } from './desk-share';
import type { ShareStream } from './share-stream';
import { keptConditions } from '../testing/kept-conditions';

const shared = vi.hoisted(() => ({ next: null as unknown as () => Promise<ShareStream> }));
vi.mock('./share-stream', () => ({ askForShare: () => shared.next(), simulateShare: () => shared.next() }));

const LOOP: LoopFound = { delayMs: 140, levelDb: -12 } as unknown as LoopFound;

describe('shared computer sound', () => {
  let store: StoreApi<DeskState>;
  let share: DeskShare;
  let guard: { onmessage: (event: { data: LoopFound }) => void; onerror(): void; terminated: boolean };
  let end: () => void;
  let closed: number;
  const held: boolean[] = [];
  const coupled: (LoopFound | null)[] = [];
  const { conditions, said, clear } = keptConditions();
  const told: ToMixWorklet[] = [];
  const audio = {
    context: { sampleRate: 48000 },
    board: { memory: new SharedArrayBuffer(8), sourcePeak: [], listenerPeak: [] },
    tell: (message: ToMixWorklet) => void told.push(message),
  } as unknown as AudioDesk;

  /** Sources that are plugged in. */
  let plugged: string[] = [];
  const patchbay = {
    plugStream: (source: string) => {
      plugged.push(source);
      return () => (plugged = plugged.filter((one) => one !== source));
    },
  } as unknown as Patchbay;

  beforeEach(() => {
    plugged = [];
    clear();
    vi.useFakeTimers();
    held.length = coupled.length = told.length = closed = 0;
    store = createStore(() => initialDeskState(deskData()));
    shared.next = () => {
      const track = { addEventListener: (_: string, ended: () => void) => (end = ended) };
      return Promise.resolve({ label: 'Player', stream: { getAudioTracks: () => [track] }, close: () => closed++ } as unknown as ShareStream);
    };
    vi.stubGlobal(
      'Worker',
      class {
        terminated = false;
        constructor() {
          guard = this as unknown as typeof guard;
        }
        postMessage = () => undefined;
        terminate = () => (this.terminated = true);
      },
    );
    const hands = { hold: (_: string, on: boolean) => void held.push(on) } as unknown as HandsOnAir;
    share = new DeskShare({ store, hands, phones: () => 'phones:maren', place: () => 5, coupled: (loop) => coupled.push(loop), conditions });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  const phase = () => store.getState().share?.phase ?? 'none';

  it('is heard by nobody until it was looked at, with a chime in the host’s phones alone', async () => {
    await share.start(audio, patchbay, 'browser');
    expect([phase(), held]).toEqual(['checking', [true]]);
    expect(told.map(({ type }) => type)).toEqual(['capture', 'add-sound', 'cue-sound']);
    await vi.advanceTimersByTimeAsync(2000);
    expect([phase(), held]).toEqual(['open', [true, false]]);
  });

  it('stays out of the call when the call is in it, until the host lets it through; found again, it is out again', async () => {
    await share.start(audio, patchbay, 'browser');
    guard.onmessage({ data: LOOP });
    await vi.advanceTimersByTimeAsync(5000);
    expect([phase(), held.at(-1), coupled]).toEqual(['held', true, [LOOP]]);
    share.letThrough();
    expect([phase(), held.at(-1), store.getState().share?.loop]).toEqual(['open', false, null]);
    guard.onmessage({ data: LOOP });
    expect([phase(), held.at(-1), coupled.length]).toEqual(['held', true, 2]);
  });

  it('is over when the host says so, or the other program ends it, and leaves nothing held', async () => {
    for (const stop of [() => share.stop(), () => end()]) {
      await share.start(audio, patchbay, 'browser');
      guard.onmessage({ data: LOOP });
      stop();
      expect([phase(), held.at(-1), coupled.at(-1), guard.terminated, plugged]).toEqual(['none', false, null, true, []]);
      expect(told.at(-1)).toEqual({ type: 'capture', name: 'loop guard', ring: null });
    }
    expect(closed).toBe(2);
    // A look that was under way when it ended has nothing to open.
    await vi.advanceTimersByTimeAsync(5000);
    expect([phase(), held.at(-1)]).toEqual(['none', false]);
  });

  it('says why there is none, and when nobody looks any more', async () => {
    shared.next = () => Promise.reject(new Error('Nothing was chosen.'));
    await share.start(audio, patchbay, 'browser');
    expect([said(), phase(), plugged]).toEqual([['Nothing was chosen.'], 'none', []]);
    shared.next = () => Promise.resolve({ label: 'x', stream: { getAudioTracks: () => [{ addEventListener: () => undefined }] }, close: () => undefined } as unknown as ShareStream);
    await share.start(audio, patchbay, 'browser');
    guard.onerror();
    expect(said().at(-1)).toContain('The loop guard stopped');
    expect(told.find(({ type }) => type === 'capture')).toMatchObject({ taps: [{ of: 'source', slot: 5 }, { of: 'others', slot: 5 }] });
  });
});
