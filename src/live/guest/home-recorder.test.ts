import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { FromHomeRecorder, ToHomeRecorder } from '../recorder/home-messages';
import { createFakeDisk } from '../testing/fake-disk';
import { initialGuestState, type GuestState } from './guest-state';
import { ringReader } from '../recorder/ring';
import { HomeRecorder } from './home-recorder';

/** A recorder's thread, from the page's side. */
class FakeWorker {
  static all: FakeWorker[] = [];
  readonly heard: ToHomeRecorder[] = [];
  onmessage: ((event: { data: FromHomeRecorder }) => void) | null = null;
  onerror: (() => void) | null = null;
  terminated = false;

  constructor() {
    FakeWorker.all.push(this);
  }

  postMessage(message: ToHomeRecorder): void {
    this.heard.push(message);
  }

  terminate(): void {
    this.terminated = true;
  }

  say(message: FromHomeRecorder): void {
    this.onmessage!({ data: message });
  }

  last<Type extends ToHomeRecorder['type']>(type: Type) {
    return this.heard.findLast((message) => message.type === type) as Extract<ToHomeRecorder, { type: Type }> | undefined;
  }
}

/** A capturing node; the source is what is connected to it. */
class FakeNode {
  static all: FakeNode[] = [];
  closed = false;
  readonly port = { postMessage: () => (this.closed = true) };

  constructor() {
    FakeNode.all.push(this);
  }
}

class FakeContext extends EventTarget {
  static connected = 0;
  static newest: FakeContext;
  state: AudioContextState = 'running';
  readonly audioWorklet = { addModule: () => Promise.resolve() };
  resume = () => Promise.resolve();

  constructor() {
    super();
    FakeContext.newest = this;
  }

  becomes(state: AudioContextState): void {
    this.state = state;
    this.dispatchEvent(new Event('statechange'));
  }

  close = () => Promise.resolve();
  createMediaStreamSource = () => ({
    connect: () => void FakeContext.connected++,
    disconnect: () => void FakeContext.connected--,
  });
}

describe('the recorder at a guest’s end', () => {
  let store: StoreApi<GuestState>;
  let recorder: HomeRecorder;
  let answer: () => Promise<Response>;
  const home = () => store.getState().home;
  const [worker, node] = [() => FakeWorker.all.at(-1)!, () => FakeNode.all.at(-1)!];

  beforeEach(() => {
    FakeWorker.all = [];
    FakeNode.all = [];
    FakeContext.connected = 0;
    let count = 0;
    answer = () => Promise.resolve(Response.json({ home: `h${++count}`, key: 'k' }));
    vi.stubGlobal('fetch', () => answer());
    vi.stubGlobal('Worker', FakeWorker);
    vi.stubGlobal('AudioWorkletNode', FakeNode);
    vi.stubGlobal('AudioContext', FakeContext);
    vi.stubGlobal('navigator', { storage: createFakeDisk().storage });
    store = createStore<GuestState>(() => initialGuestState('Runa'));
    recorder = new HomeRecorder({ store, headers: {} });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('captures only once its recorder can keep, and lets go when the take is over', async () => {
    recorder.follow({} as MediaStream);
    await recorder.onTake('t1');
    expect(worker().last('start')!.target.home).toBe('h1');
    expect([home().recording, FakeNode.all.length]).toEqual([false, 0]);
    worker().say({ type: 'ready' });
    expect([home().recording, FakeContext.connected]).toEqual([true, 1]);
    await recorder.onTake(null);
    expect([home().recording, node().closed, FakeContext.connected]).toEqual([false, true, 0]);
    // Nothing is thrown away with it: the rest is still being sent.
    expect(worker().terminated).toBe(false);
    worker().say({ type: 'progress', captured: 96_000, kept: 96_000, sent: 48_000, waiting: null });
    expect(home()).toMatchObject({ capturedSeconds: 2, keptSeconds: 2, sentSeconds: 1, complete: false });
    worker().say({ type: 'sent' } as FromHomeRecorder);
    expect([worker().terminated, home().complete]).toEqual([true, true]);
  });

  it('ends its recording where the browser stops the sound, says so, and begins another when it goes on', async () => {
    recorder.follow({} as MediaStream);
    await recorder.onTake('t1');
    worker().say({ type: 'ready' });
    const first = node();
    FakeContext.newest.becomes('suspended');
    expect([first.closed, home().recording]).toEqual([true, false]);
    expect(home().problem).toMatch(/stopped the sound of this page/);
    FakeContext.newest.becomes('running');
    await vi.waitFor(() => expect(worker().last('start')!.target.home).toBe('h2'));
    worker().say({ type: 'ready' });
    expect([home().recording, home().problem]).toEqual([true, null]);
  });

  it('follows another microphone in the middle of a take', async () => {
    recorder.follow({} as MediaStream);
    await recorder.onTake('t1');
    worker().say({ type: 'ready' });
    recorder.follow({} as MediaStream);
    expect(FakeContext.connected).toBe(1);
    recorder.follow(null);
    expect([FakeContext.connected, home().recording]).toEqual([0, true]);
  });

  it('ends a recording with nothing in it when its take was over before it could begin', async () => {
    await recorder.onTake('t1');
    const first = worker();
    await recorder.onTake('t2');
    // Nothing comes of it, and it must not begin the second.
    first.say({ type: 'ready' });
    expect([ringReader(first.last('start')!.ring, 1).ended(), FakeNode.all.length, home().recording]).toEqual([true, 0, false]);
    worker().say({ type: 'ready' });
    expect([FakeNode.all.length, home().recording]).toEqual([1, true]);
  });

  it('asks again while the server is away, and records once however often the line came and went meanwhile', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    const there = answer;
    answer = () => Promise.reject(new TypeError('network'));
    void recorder.onTake('t1');
    await vi.advanceTimersByTimeAsync(1000);
    expect(home().problem).toMatch(/Nothing is recorded at your end \(The server cannot be reached/);
    void recorder.onTake(null);
    void recorder.onTake('t1');
    await vi.advanceTimersByTimeAsync(1000);
    answer = there;
    await vi.advanceTimersByTimeAsync(9000);
    expect(FakeWorker.all.map((one) => one.last('start')?.target.home)).toEqual(['h1']);
    worker().say({ type: 'ready' });
    expect([home().recording, home().problem]).toEqual([true, null]);
    // Its thread dies: nobody would read what is captured.
    worker().onerror!();
    expect([home().recording, node().closed]).toEqual([false, true]);
  });

  it('sends at the pace of the line while there is one, and as fast as it can without', async () => {
    await recorder.onTake('t1');
    const rate = () => worker().last('rate')!.rate;
    recorder.line({ lossShare: 0, roundTripMs: 40 });
    const inCall = rate();
    expect(inCall).toBeLessThan(Infinity);
    for (let second = 0; second < 10; second++) recorder.line({ lossShare: 0.2, roundTripMs: 900 });
    expect(rate()).toBeLessThanOrEqual(inCall);
    recorder.line(null);
    expect(rate()).toBe(Infinity);
  });

  it('says in words what is not recorded, or not sent, and that the line is', async () => {
    answer = () => Promise.resolve(Response.json({ code: 'no', message: 'This take has ended.' }, { status: 409 }));
    await recorder.onTake('t1');
    expect(home().problem).toBe('Nothing is recorded at your end (This take has ended.). Your line is recorded at the desk.');
    answer = () => Promise.resolve(Response.json({ home: 'h9', key: 'k' }));
    await recorder.onTake('t2');
    expect(home().problem).toBeNull();
    worker().onerror!();
    expect(home().problem).toContain('could not be sent (The recorder stopped.)');
    expect(worker().terminated).toBe(true);
  });
});
