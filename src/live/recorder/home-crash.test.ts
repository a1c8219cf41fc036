import { createHash } from 'node:crypto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { decodeSamples } from '@/core/formats/wav/sample-format';
import { createRandom } from '@/core/random';
import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import { FakeBlob } from '../testing/fake-blob';
import { createFakeDisk, type FakeDisk } from '../testing/fake-disk';
import type { FromHomeRecorder, ToHomeRecorder } from './home-messages';
import { RING_BLOCK, ringBytes, ringWriter } from './ring';

const TARGET = { home: 'h', key: 'k' };
const STEP_MS = 100;
const truth = (sample: number): number => (((sample * 7919) % 65_521) - 32_760) / 32_768;

interface Report {
  keptSamples: number;
  ended: boolean;
  losses: { atSample: number; lengthSamples: number }[];
}

/** A server that keeps one home recording, and is away or damaged now and then. */
function homeServer(seed: number) {
  const random = createRandom(seed);
  const server = { away: false, chunks: new Map<number, Uint8Array>(), reports: [] as Report[] };
  const answer = async (url: string, init: { headers: Record<string, string>; body: Blob | string }): Promise<Response> => {
    await new Promise((resolve) => setTimeout(resolve, random.index(200)));
    if (server.away || random.next() < 0.1) throw new TypeError('network');
    if (init.headers.authorization !== 'Bearer k') return Response.json({ code: 'no', message: 'Whose is this?' }, { status: 404 });
    const index = /chunks\/(\d+)$/.exec(url)?.[1];
    if (index === undefined) server.reports.push(JSON.parse(init.body as string) as Report);
    else {
      const bytes = new Uint8Array(await (init.body as Blob).arrayBuffer());
      if (createHash('sha256').update(bytes).digest('hex') !== init.headers['x-chunk-sha256']) return Response.json({ code: 'checksum' }, { status: 422 });
      server.chunks.set(Number(index), bytes);
    }
    return new Response(null, { status: 204 });
  };
  const sound = (): Float32Array => {
    const parts = [...server.chunks].sort(([a], [b]) => a - b).map(([, bytes]) => decodeSamples('pcm24', 1, bytes)[0]);
    const whole = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
    parts.forEach((part, k) => whole.set(part, k * HOME_CHUNK_FRAMES));
    return whole;
  };
  return { server, answer, sound };
}

describe('a guest’s own recording', () => {
  let disk: FakeDisk;
  const said: FromHomeRecorder[] = [];
  const last = (type: FromHomeRecorder['type']) => said.findLast((message) => message.type === type);
  let scope: { onmessage: ((event: { data: ToHomeRecorder }) => void) | null; postMessage(message: FromHomeRecorder): void };

  async function load(fetches: ReturnType<typeof homeServer>['answer']): Promise<void> {
    vi.resetModules();
    said.length = 0;
    const mine = { onmessage: null, postMessage: (message: FromHomeRecorder) => void said.push(message) };
    scope = mine;
    vi.stubGlobal('self', mine);
    vi.stubGlobal('Blob', FakeBlob);
    vi.stubGlobal('fetch', async (...words: Parameters<typeof fetches>) => {
      const answered = await fetches(...words);
      return scope === mine ? answered : new Promise<never>(() => undefined);
    });
    await import('./home.worker');
  }

  async function untilSent(): Promise<void> {
    for (let turns = 0; turns < 2000 && !last('sent'); turns++) await vi.advanceTimersByTimeAsync(STEP_MS);
    expect(last('sent')).toBeDefined();
  }

  function begin() {
    const ring = new SharedArrayBuffer(ringBytes(1));
    const writer = ringWriter(ring, 1);
    let sample = 0;
    const play = (blocks: number) => {
      for (let block = 0; block < blocks; block++, sample += RING_BLOCK) {
        const room = writer.next();
        room?.forEach((_, k) => (room[k] = truth(sample + k)));
        if (room) writer.commit(9600 + sample);
      }
    };
    scope.onmessage!({ data: { type: 'start', target: TARGET, ring } });
    return { play, close: () => writer.close() };
  }

  beforeEach(() => {
    vi.useFakeTimers();
    disk = createFakeDisk();
    vi.stubGlobal('navigator', { storage: disk.storage, locks: { request: (_: string, work: () => Promise<void>) => work() } });
    vi.stubGlobal('crypto', { subtle: { digest: (_: string, bytes: Uint8Array) => Promise.resolve(Uint8Array.from(createHash('sha256').update(bytes).digest()).buffer) } });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it.each([1, 2, 3, 4])('is sent by the next page, whole and with what could not be kept, when its page crashed (seed %i)', async (seed) => {
    const stalls = seed < 3;
    const { server, answer, sound } = homeServer(seed);
    await load(answer);
    const { play } = begin();
    await vi.advanceTimersByTimeAsync(STEP_MS);
    for (let step = 0; step < (stalls ? 150 : 400); step++) {
      // Once the browser gives the recorder no turn for longer than its ring holds; or never.
      play(step === 60 && stalls ? 2148 : 38);
      await vi.advanceTimersByTimeAsync(STEP_MS);
    }
    const { kept } = last('progress') as { kept: number };
    play(20);
    vi.clearAllTimers();
    disk.kill(new Uint8Array(seed * 100));
    await load(answer);
    scope.onmessage!({ data: { type: 'recover', home: 'h' } });
    await untilSent();
    const end = server.reports.at(-1)!;
    const lost = { atSample: (60 * 38 + 2048) * RING_BLOCK, lengthSamples: 100 * RING_BLOCK };
    expect(end).toMatchObject({ ended: true, losses: stalls ? [lost] : [] });
    expect(end.keptSamples).toBeGreaterThanOrEqual(kept);
    const { atSample, lengthSamples } = end.losses.at(0) ?? { atSample: 0, lengthSamples: 0 };
    const samples = sound();
    expect(samples.length).toBe(end.keptSamples);
    expect(samples.findIndex((sample, at) => sample !== (at >= atSample && at < atSample + lengthSamples ? 0 : truth(at)))).toBe(-1);
    expect(disk.files()).toEqual([]);
  });

  it('keeps to the rate the line has room for, and goes as fast as it can when the call is over', async () => {
    const { server, answer, sound } = homeServer(4);
    await load(answer);
    const { play, close } = begin();
    scope.onmessage!({ data: { type: 'rate', rate: 36_000 } });
    for (let step = 0; step < 200; step++) {
      play(38);
      await vi.advanceTimersByTimeAsync(STEP_MS);
    }
    // 20 s at 36 kB a second are 20 chunks; one more is on its way at each end.
    expect(server.chunks.size).toBeGreaterThan(12);
    expect(server.chunks.size).toBeLessThanOrEqual(22);
    scope.onmessage!({ data: { type: 'rate', rate: Infinity } });
    close();
    await untilSent();
    expect(sound().length).toBe(200 * 38 * RING_BLOCK);
    expect(sound().findIndex((sample, at) => sample !== truth(at))).toBe(-1);
  });
});
