import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { setStrip } from '@/core/hearing/edit';
import { voiceOf } from '@/core/hearing/ids';
import { stripOf } from '@/core/hearing/processing';
import { createRandom } from '@/core/random';
import { listenToVoice } from '@/core/strip/listen-to-voice';
import { withInsert } from '@/core/strip/settings';
import { callAtDesk } from '../testing/call-at-desk';
import { FakeWorker } from '../testing/fake-worker';
import { keptConditions } from '../testing/kept-conditions';
import { NoiseSuppressionLoader } from './noise-suppression';
import type { StripDesk } from './strip-desk';
import { StripSetter } from './strip-setter';

const runa = voiceOf('runa');

/** Twelve seconds of somebody who hums in words, over a room. */
function hummed(spoken: boolean): Float32Array {
  const random = createRandom(5);
  return Float32Array.from({ length: 12 * 48_000 }, (_, i) => {
    const word = spoken && i % 24_000 < 16_000 ? 0.1 : 0;
    const phase = (2 * Math.PI * 140 * i) / 48_000;
    return word * (Math.sin(phase) + 0.5 * Math.sin(2 * phase) + 0.3 * Math.sin(3 * phase)) + 0.0004 * random.normal();
  });
}

function desk() {
  const call = callAtDesk();
  const { conditions, said } = keptConditions();
  const stripDesk = { ...call, conditions, hands: null } as unknown as StripDesk;
  return { ...call, stripDesk, said, listening: () => call.store.getState().stripListening };
}

beforeEach(() => {
  FakeWorker.all = [];
  vi.stubGlobal('Worker', FakeWorker);
});
afterEach(() => void vi.unstubAllGlobals());

describe('a strip that is set by listening', () => {
  it('listens to one voice until enough was said, sets its strip as a step, and says why', () => {
    const { stripDesk, store, told, slotOf, listening } = desk();
    const setter = new StripSetter(stripDesk);
    setter.start(runa);
    expect(told).toMatchObject([{ type: 'capture', taps: [{ of: 'source', slot: slotOf(runa), channels: 1 }] }]);
    const facts = listenToVoice(hummed(true));
    FakeWorker.last().say({ seconds: 4, facts: { ...facts, spokenSeconds: 2 } });
    expect(listening()).toMatchObject({ source: runa, phase: 'listening', spokenSeconds: 2 });
    expect(stripOf(store.getState().plan, runa).lowCut.on).toBe(false);
    FakeWorker.last().say({ seconds: 12, facts });
    expect(listening()?.phase).toBe('set');
    expect(listening()!.reasons.map(({ insert }) => insert)).toContain('lowCut');
    expect(stripOf(store.getState().plan, runa).lowCut.on).toBe(true);
    expect([FakeWorker.last().terminated, told.at(-1)]).toEqual([true, { type: 'capture', name: 'a voice for its strip', ring: null }]);
  });

  it('leaves the strip alone of somebody who says nothing, and whoever looks away listens no longer', () => {
    const { stripDesk, store, listening } = desk();
    const before = store.getState().plan;
    const setter = new StripSetter(stripDesk);
    setter.start(runa);
    const facts = listenToVoice(hummed(false));
    FakeWorker.last().say({ seconds: 12, facts });
    expect(listening()?.phase, 'more may be said').toBe('listening');
    FakeWorker.last().say({ seconds: 46, facts });
    expect([listening()?.phase, store.getState().plan]).toEqual(['too-little', before]);
    setter.start(runa);
    setter.stop();
    expect(listening()).toBeNull();
    store.setState({ call: 'off' });
    setter.start(runa);
    expect(listening(), 'no call runs').toBeNull();
  });
});

describe('noise suppression at a desk', () => {
  const wanted = (on: boolean) => (desk: StripDesk) => desk.plan.change((plan) => setStrip(plan, runa, (strip) => withInsert(strip, 'noise', { ...strip.noise, on })));

  it('is fetched when somebody’s strip asks for it, given to the audio thread once, and measured', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response()));
    const library = {} as WebAssembly.Module;
    vi.spyOn(WebAssembly, 'compileStreaming').mockResolvedValue(library);
    const { stripDesk, store, told } = desk();
    new NoiseSuppressionLoader(stripDesk);
    expect(store.getState().noise.state).toBe('off');
    wanted(true)(stripDesk);
    expect(store.getState().noise.state).toBe('loading');
    await vi.waitFor(() => expect(store.getState().noise.state).toBe('on'));
    await vi.waitFor(() => expect(FakeWorker.all.length).toBe(1));
    FakeWorker.last().say({ mostVoices: 3 });
    await vi.waitFor(() => expect(store.getState().noise.mostVoices).toBe(3));
    wanted(false)(stripDesk);
    wanted(true)(stripDesk);
    expect(told.filter(({ type }) => type === 'noise-suppression')).toEqual([{ type: 'noise-suppression', module: library }]);
    vi.restoreAllMocks();
  });

  it('says that voices pass as they are when it cannot be had, and is tried again', async () => {
    let there = false;
    vi.stubGlobal('fetch', () => (there ? Promise.resolve(new Response()) : Promise.reject(new Error('offline'))));
    vi.spyOn(WebAssembly, 'compileStreaming').mockImplementation(async (response) => (await response, {} as WebAssembly.Module));
    const { stripDesk, store, said } = desk();
    new NoiseSuppressionLoader(stripDesk);
    wanted(true)(stripDesk);
    await vi.waitFor(() => expect(store.getState().noise.state).toBe('failed'));
    expect(said()).toEqual([expect.stringContaining('voices pass as they are')]);
    there = true;
    wanted(false)(stripDesk);
    wanted(true)(stripDesk);
    await vi.waitFor(() => expect(store.getState().noise.state).toBe('on'));
    expect(said()).toEqual([]);
    vi.restoreAllMocks();
  });
});
