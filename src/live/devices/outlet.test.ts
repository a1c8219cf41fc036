import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { GLITCHES } from '@/core/dsp/sound-ring';
import type { DeviceOwner } from './device-owner';
import { Outlet, type OutletParts } from './outlet';

/** A browser’s context; the device it ends up at is what the test says. */
class FakeContext {
  static made: FakeContext[] = [];
  /** Where a browser plays instead of the device that was asked for. */
  static elsewhere: string | null = null;
  state = 'running';
  sinkId: unknown;
  currentTime = 0;
  destination = {};
  playbackStats = { underrunEvents: 2, underrunDuration: 0.1 };
  audioWorklet = { addModule: () => Promise.resolve() };
  closed = false;
  constructor(readonly options: AudioContextOptions & { sinkId?: unknown }) {
    this.sinkId = options.sinkId ?? '';
    FakeContext.made.push(this);
  }
  setSinkId(id: string): Promise<void> {
    this.sinkId = FakeContext.elsewhere ?? id;
    return Promise.resolve();
  }
  resume = () => Promise.resolve();
  close(): Promise<void> {
    this.closed = true;
    return Promise.resolve();
  }
  addEventListener(): void {}
}

class FakeNode {
  readonly port = { postMessage: (message: { type: string }) => FakeNode.told.push(message.type) };
  static told: string[] = [];
  connect = (next: unknown) => next;
  disconnect(): void {}
}

describe('an outlet', () => {
  const known = (here: boolean, simulated = false) => ({ key: 'k', id: 'id-1', label: 'Stage box', here, simulated });
  const store = createStore(() => ({ known: [known(true)] }));
  const said: string[] = [];
  const owner = { store, device: () => store.getState().known[0], nameOf: () => 'Stage box', watch: () => () => undefined } as unknown as DeviceOwner;
  const parts: OutletParts = { owner, rack: { play: () => () => undefined, offset: () => undefined } as unknown as OutletParts['rack'], patchbay: () => null, changed: (news) => void (news && said.push(news)) };
  const made: Outlet[] = [];
  const outletOf = (listener: string): Outlet => {
    made.push(new Outlet({ id: 'o', listener, device: 'k', channels: 'stereo', offsetMs: 0 } as ConstructorParameters<typeof Outlet>[0], parts));
    return made.at(-1)!;
  };
  const opened = async (listener: string): Promise<{ outlet: Outlet; context: FakeContext }> => {
    const outlet = outletOf(listener);
    await outlet.open();
    return { outlet, context: FakeContext.made.at(-1)! };
  };

  beforeEach(() => {
    [FakeContext.made, FakeContext.elsewhere, FakeNode.told] = [[], null, []];
    said.length = 0;
    store.setState({ known: [known(true)] });
    vi.stubGlobal('AudioContext', FakeContext);
    vi.stubGlobal('AudioWorkletNode', FakeNode);
    vi.stubGlobal('DelayNode', FakeNode);
  });
  afterEach(() => {
    for (const outlet of made.splice(0)) outlet.close();
    vi.unstubAllGlobals();
    vi.useRealTimers();
  });

  it('is nowhere until it is at its device, and asks for more in hand where nobody answers what is heard', async () => {
    const { outlet, context } = await opened('program');
    expect([context.options.sinkId, context.sinkId, outlet.state]).toEqual([{ type: 'none' }, 'id-1', 'open']);
    expect(context.options.latencyHint).toBe('playback');
    expect((await opened('feed:hall')).context.options.latencyHint).toBe('playback');
    expect((await opened('return:runa')).context.options.latencyHint).toBe('interactive');
    expect((await opened('phones:host')).context.options.latencyHint).toBe('interactive');
  });

  it('counts what was not there to play and what its device was not given in time, since it was opened', async () => {
    const { outlet, context } = await opened('program');
    expect(outlet.dropOuts()).toBe(0);
    outlet.ring!.facts[GLITCHES] = 3;
    context.playbackStats.underrunEvents += 4;
    expect(outlet.dropOuts()).toBe(7);
    outlet.close();
    expect(outlet.dropOuts()).toBe(0);
  });

  it('does not count what another device was not given in time', async () => {
    const { outlet, context } = await opened('program');
    context.playbackStats.underrunEvents += 4;
    store.setState({ known: [known(true, true)] });
    outlet.change({ ...outlet.choice, listener: 'feed:hall' });
    await vi.waitFor(() => expect(outlet.state).toBe('open'));
    expect(outlet.dropOuts()).toBe(0);
  });

  it('is closed at once when its device goes, and asks for a stream of its own when it is back', async () => {
    const { outlet, context } = await opened('program');
    store.setState({ known: [known(false)] });
    expect([outlet.state, FakeNode.told]).toEqual(['away', ['close']]);
    expect(said.at(-1)).toContain('closed at once, and plays nowhere else');
    store.setState({ known: [known(true)] });
    await vi.waitFor(() => expect(outlet.state).toBe('open'));
    expect(context.closed).toBe(true);
    const again = FakeContext.made.at(-1)!.options;
    expect(again.latencyHint).not.toBe(context.options.latencyHint);
    expect(again.sampleRate).not.toBe(context.options.sampleRate);
    expect(said.at(-1)).toContain('is back and carries its mix again');
  });

  it('plays nothing where the browser would play it elsewhere', async () => {
    vi.useFakeTimers();
    FakeContext.elsewhere = '';
    const outlet = outletOf('return:runa');
    const opening = outlet.open();
    await vi.advanceTimersByTimeAsync(5000);
    await opening;
    expect([outlet.state, outlet.ring, FakeContext.made[0].closed]).toEqual(['refused', null, true]);
    expect(outlet.reason).toContain('Stage box');
  });
});
