import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { BoxMessage, ForWatchers } from '@/core/lines/messages';
import { deskData } from '../testing/desk-data';
import { DeskPlace, type DeskGreeting } from './desk-place';
import type { DeskState } from './desk-state';
import { initialDeskState } from './initial-desk-state';
import { keptConditions } from '../testing/kept-conditions';

interface Opened {
  url: string;
  onOpen(greeting: DeskGreeting): void;
  onMessage(message: BoxMessage): void;
  onAway(): void;
  onRefused(code: string, words?: string): void;
  closed: boolean;
}

const streams = vi.hoisted(() => ({ all: [] as unknown[] }));
vi.mock('../lines/window-id', () => ({ windowId: () => 'w1' }));
vi.mock('../lines/message-stream', () => ({
  openMessageStream: (options: object) => {
    const opened = { ...options, closed: false };
    streams.all.push(opened);
    return { close: () => (opened.closed = true) };
  },
}));

describe('a window’s place at the desk', () => {
  let store: StoreApi<DeskState>;
  let ousted: number;
  const { conditions, said, clear } = keptConditions();
  const scenes: ForWatchers[] = [];
  const posted: { to: string }[] = [];
  const stream = () => streams.all.at(-1) as Opened;
  const place = (mayWork = true) => new DeskPlace({ episode: 'e', mayWork, store, onDesk: () => undefined, onIceServers: () => undefined, onMessage: () => undefined, onScene: (scene) => scenes.push(scene), onOusted: () => ousted++, conditions });
  const now = () => store.getState().place;

  beforeEach(() => {
    vi.useFakeTimers();
    streams.all = [];
    clear();
    scenes.length = posted.length = ousted = 0;
    store = createStore(() => initialDeskState(deskData()));
    vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
      posted.push(JSON.parse(body) as { to: string });
      return Promise.resolve(Response.json({}));
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('waits a moment for a window that is just going, and only watches when it stays', async () => {
    place().open();
    for (let tries = 1; stream().url.includes('as=desk'); tries++) {
      expect(tries).toBeLessThan(40);
      stream().onRefused('open-elsewhere');
      await vi.advanceTimersByTimeAsync(300);
    }
    expect([now(), stream().url]).toEqual(['watching', '/api/episodes/e/messages?as=watcher&window=w1']);
    stream().onMessage({ body: { type: 'scene' } } as unknown as BoxMessage);
    expect([scenes.length, ousted]).toEqual([1, 0]);
  });

  it('gets the place that becomes free meanwhile', async () => {
    place().open();
    stream().onRefused('open-elsewhere');
    await vi.advanceTimersByTimeAsync(300);
    stream().onOpen({ windows: [], iceServers: [] });
    expect(now()).toBe('desk');
  });

  it('holds what it has to say while the server is away, and says it in order when it is back', async () => {
    const desk = place();
    desk.open();
    stream().onOpen({ windows: [], iceServers: [] });
    stream().onAway();
    desk.send('runa', { n: 1 });
    desk.send('priya', { n: 2 });
    await vi.advanceTimersByTimeAsync(5000);
    expect([store.getState().boxAway, posted]).toEqual([true, []]);
    stream().onOpen({ windows: [], iceServers: [] });
    await vi.advanceTimersByTimeAsync(5000);
    expect([store.getState().boxAway, posted.map(({ to }) => to)]).toEqual([false, ['runa', 'priya']]);
  });

  it('watches when another window takes over, sends nothing any more, and can take the desk back', async () => {
    const desk = place();
    desk.open();
    stream().onOpen({ windows: [], iceServers: [] });
    const before = stream();
    before.onMessage({ body: { type: 'ousted' } } as unknown as BoxMessage);
    expect([now(), ousted, before.closed]).toEqual(['watching', 1, true]);
    desk.send('runa', { n: 1 });
    await vi.advanceTimersByTimeAsync(5000);
    expect(posted).toEqual([]);
    await desk.takeOver();
    // What changes something is no address that a link can lead to.
    expect(posted).toEqual([{ window: 'w1' }]);
    expect(stream().url).toContain('as=desk&window=w1');
    stream().onOpen({ windows: [], iceServers: [] });
    expect(now()).toBe('desk');
  });

  it('loses the place when another took it while the connection was broken', () => {
    place().open();
    stream().onOpen({ windows: [], iceServers: [] });
    stream().onAway();
    vi.setSystemTime(Date.now() + 10_000);
    vi.advanceTimersByTime(10_000);
    stream().onRefused('open-elsewhere');
    expect([now(), ousted]).toEqual(['watching', 1]);
  });

  it('stays the desk when its person was signed out, and says what waited when they are back', async () => {
    const desk = place();
    desk.open();
    stream().onOpen({ windows: [], iceServers: [] });
    stream().onAway();
    stream().onRefused('sign-in');
    expect([now(), ousted, store.getState().signedOut, store.getState().boxAway]).toEqual(['desk', 0, true, true]);
    desk.send('runa', { n: 1 });
    await vi.advanceTimersByTimeAsync(5000);
    expect(posted).toEqual([]);
    desk.signedIn();
    // An answer to what was asked before.
    stream().onRefused('sign-in');
    expect(store.getState().signedOut).toBe(false);
    stream().onOpen({ windows: [], iceServers: [] });
    await vi.advanceTimersByTimeAsync(1000);
    expect([posted.map(({ to }) => to), store.getState().boxAway]).toEqual([['runa'], false]);
  });

  it('keeps the call going when its account may not work the desk any more, and says so', () => {
    place().open();
    stream().onOpen({ windows: [], iceServers: [] });
    stream().onRefused('not-allowed', 'You may watch this desk, not work it.');
    expect([now(), ousted, said()]).toEqual(['desk', 0, [expect.stringContaining('You may watch this desk')]]);
  });

  it('only watches where its person may not work the desk', () => {
    place(false).open();
    expect([now(), stream().url.includes('as=watcher')]).toEqual(['watching', true]);
  });
});
