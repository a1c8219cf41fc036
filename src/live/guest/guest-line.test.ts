import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { UplinkReport } from '@/core/lines/home-pace';
import { FakePeerLine } from '../testing/fake-peer-line';
import { GuestLine } from './guest-line';
import { initialGuestState, type GuestState } from './guest-state';

vi.mock('../lines/peer-line', async () => ({ PeerLine: (await import('../testing/fake-peer-line')).FakePeerLine }));

const FIRST = '3f2d9a52-6f0d-4d0e-9c7a-1a2b3c4d5e6f';
const SECOND = '9b1deb4d-3b7d-4bad-9bdd-2b0d7b3dcb6d';
const SCENE = { type: 'scene', admitted: true, recording: false, take: null, people: [], talkingToYou: null, voiceKbps: 96, talkTargets: [] };

describe('a guest’s end of the line', () => {
  let store: StoreApi<GuestState>;
  let line: GuestLine;
  let broken: number;
  let blocked: boolean;
  const uplinks: (UplinkReport | null)[] = [];
  const peer = () => FakePeerLine.newest;
  const offer = (connection: string) => line.take({ type: 'description', connection, description: { type: 'offer', sdp: 'v=0' } });
  const state = () => store.getState().line;
  const flow = async (seconds: number) => {
    for (let second = 0; second < seconds; second++) {
      peer().lastPacketAt = FakePeerLine.now() + 990;
      await vi.advanceTimersByTimeAsync(1000);
    }
  };

  beforeEach(() => {
    vi.useFakeTimers();
    FakePeerLine.all = [];
    uplinks.length = broken = 0;
    blocked = false;
    vi.stubGlobal('window', { addEventListener: () => undefined, removeEventListener: () => undefined });
    vi.stubGlobal(
      'Audio',
      class {
        play = () => (blocked ? Promise.reject(new DOMException('press first', 'NotAllowedError')) : Promise.resolve());
      },
    );
    store = createStore(() => initialGuestState('Runa'));
    line = new GuestLine({ store, track: () => null, send: () => undefined, onDesk: () => undefined, onReload: () => undefined, onUplink: (report) => uplinks.push(report), onWish: () => undefined, onBroken: () => broken++ });
  });
  afterEach(() => {
    line.close();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('answers what the desk begins; the newest connection counts, and set-up of another is left out', () => {
    offer(FIRST);
    offer(FIRST);
    expect([FakePeerLine.all.length, peer().received.length, state()]).toEqual([1, 2, 'connecting']);
    offer(SECOND);
    expect([FakePeerLine.all.length, FakePeerLine.all[0].closed]).toEqual([2, true]);
    line.take({ type: 'candidate', connection: FIRST, candidate: null });
    for (const junk of [null, 7, {}, { type: 'description', connection: 'x' }, { type: 'candidate', connection: SECOND, candidate: { candidate: 1 } }]) line.take(junk);
    expect(peer().received.length).toBe(1);
    // What becomes of the first is no matter any more.
    FakePeerLine.all[0].become('connected');
    expect(state()).toBe('connecting');
  });

  it('says that the line is lost within three seconds, and asks for another after nine more, again and again', async () => {
    offer(FIRST);
    peer().become('connected');
    await flow(3);
    expect(state()).toBe('connected');
    await vi.advanceTimersByTimeAsync(3000);
    expect([state(), store.getState().report, broken]).toEqual(['lost', null, 0]);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(broken).toBe(1);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(broken).toBe(2);
    await flow(1);
    expect(state()).toBe('connected');
    await flow(20);
    expect(broken).toBe(2);
  });

  it('reports once a second what it hears, and whether it is muted', async () => {
    offer(FIRST);
    peer().become('connected');
    await flow(2);
    expect(peer().said.at(-1)).toMatchObject({ type: 'report', muted: false });
    expect(store.getState().report).not.toBeNull();
    store.setState({ muted: true });
    await flow(1);
    expect(peer().said.at(-1)).toMatchObject({ muted: true });
    expect(uplinks.length).toBe(3);
  });

  it('shows the scene it is told, speaks at the bitrate that is wished for, and forgets both when the call is over', () => {
    offer(FIRST);
    for (const junk of ['', '{"type":"other"}', 'null']) expect(() => peer().options.onSaid(junk)).not.toThrow();
    expect(store.getState().scene).toBeNull();
    peer().options.onSaid(JSON.stringify(SCENE));
    expect(peer().bitrates).toEqual([]);
    peer().options.onSaid(JSON.stringify({ ...SCENE, voiceKbps: 48 }));
    expect([store.getState().scene?.voiceKbps, peer().bitrates]).toEqual([48, [48]]);
    line.take({ type: 'hung-up' });
    expect([state(), store.getState().scene, peer().closed, uplinks.at(-1)]).toEqual(['none', null, true, null]);
  });

  it('says that the browser wants a press before it lets sound out, and no more once it had one', async () => {
    blocked = true;
    offer(FIRST);
    peer().options.onStream({} as MediaStream);
    await vi.advanceTimersByTimeAsync(0);
    expect(store.getState().blocked).toBe(true);
    blocked = false;
    await line.play();
    expect(store.getState().blocked).toBe(false);
  });
});
