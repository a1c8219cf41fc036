import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { keepRunning } from './keep-running';
import type { Sink } from './open-context';

/** A context whose device may be pulled out: it renders only where `renders` says so. */
class FakeContext extends EventTarget {
  state = 'running';
  currentTime = 0;
  sink: Sink = 'phones';
  readonly moves: Sink[] = [];

  constructor(public renders: (sink: Sink) => boolean) {
    super();
    setInterval(() => {
      if (this.state === 'running' && this.renders(this.sink)) this.currentTime += 0.01;
    }, 10);
  }

  setSinkId(sink: Sink): Promise<void> {
    this.moves.push(sink);
    this.sink = sink;
    return Promise.resolve();
  }

  resume = (): Promise<void> => Promise.resolve();
}

describe('a context whose device is pulled out', () => {
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal('AudioContext', { prototype: { setSinkId: true } });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const keep = (context: FakeContext) => keepRunning(context as unknown as AudioContext);

  it('goes on at the system’s own output, and where that does not run either at none', async () => {
    const context = new FakeContext((sink) => typeof sink === 'object');
    const end = keep(context);
    await vi.advanceTimersByTimeAsync(3000);
    expect(context.moves).toEqual(['', { type: 'none' }]);
    expect(context.currentTime).toBeGreaterThan(1);
    end();
  });

  it('is mended at once when the browser says that it broke', async () => {
    const context = new FakeContext((sink) => sink === '');
    keep(context);
    context.dispatchEvent(new Event('error'));
    await vi.advanceTimersByTimeAsync(300);
    expect(context.moves).toEqual(['']);
  });

  it('is left alone while it runs, while the browser holds it back, and when nobody watches any more', async () => {
    const running = new FakeContext(() => true);
    const held = new FakeContext(() => false);
    held.state = 'suspended';
    const ended = new FakeContext(() => false);
    for (const context of [running, held]) keep(context);
    keep(ended)();
    await vi.advanceTimersByTimeAsync(5000);
    expect([running, held, ended].flatMap(({ moves }) => moves)).toEqual([]);
  });
});
