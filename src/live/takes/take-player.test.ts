import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { TakeData } from '@/core/session/take-data';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import type { ToMixWorklet } from '../worklet/messages';
import { TakePlayer } from './take-player';

interface Started {
  track: number;
  when: number;
  offset: number;
  /** When it was asked for. */
  asked: number;
}

const clock = { now: 0 };
const started: Started[] = [];
const told: ToMixWorklet[] = [];

vi.mock('../desk/audio-desk', () => ({
  openAudioDesk: () =>
    Promise.resolve({
      context: {
        get currentTime() {
          return clock.now;
        },
        resume: () => Promise.resolve(),
        createBufferSource() {
          const source = { track: -1, connect: (_: object, __: number, track: number) => void (source.track = track), disconnect: () => undefined, stop: () => undefined, start: (when: number, offset: number) => void started.push({ track: source.track, when, offset, asked: clock.now }) };
          return source;
        },
      },
      node: {},
      tell: (message: ToMixWorklet) => void told.push(message),
      close: () => Promise.resolve(),
    }),
}));

const TAKE = { id: 't', lengthSamples: 3 * CHUNK_FRAMES, tracks: ['voice', 'sounds', 'program'].map((kind, k) => ({ id: `track-${k}`, kind, channels: 1, format: 'pcm16' })) } as unknown as TakeData;

describe('a take that plays', () => {
  /** How long the server takes for each chunk from now on, s. */
  let slow = 0;
  beforeEach(() => {
    vi.useFakeTimers();
    clock.now = 0;
    slow = 0;
    started.length = told.length = 0;
    vi.stubGlobal('AudioBuffer', class { copyToChannel = () => undefined });
    vi.stubGlobal('fetch', async () => {
      await new Promise((resolve) => setTimeout(resolve, slow * 1000));
      return new Response(new Uint8Array(2 * CHUNK_FRAMES));
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const pass = async (seconds: number) => {
    for (let k = 0; k < seconds * 20; k++) {
      clock.now += 0.05;
      await vi.advanceTimersByTimeAsync(50);
    }
  };
  const heard = () => (told.findLast(({ type }) => type === 'plan') as Extract<ToMixWorklet, { type: 'plan' }>).plan.source;

  it('starts each chunk of all tracks at one moment, at its own sample', async () => {
    const player = new TakePlayer(TAKE);
    player.seek(CHUNK_FRAMES / 2);
    void player.play();
    await pass(6);
    const from = started[0].when;
    expect(started.map(({ track, when, offset }) => [track, Math.round((when - from) * 100) / 100, offset])).toEqual([0, 1, 2].flatMap((chunk) => [0, 1, 2].map((track) => [track, chunk === 0 ? 0 : 2 * chunk - 1, chunk === 0 ? 1 : 0])));
    expect(player.store.getState().playing).toBe('stopped');
  });

  it('waits with every track for a chunk that comes late, and leaves nothing out', async () => {
    const player = new TakePlayer(TAKE);
    slow = 3.5;
    void player.play();
    await pass(18);
    const whens = [0, 1, 2].map((chunk) => started.slice(3 * chunk, 3 * chunk + 3));
    for (const chunk of whens) expect(new Set(chunk.map(({ when }) => when)).size).toBe(1);
    // Nothing is started in the past, where it would be heard out of its place.
    expect(started.every(({ offset, when, asked }) => offset === 0 && when > asked)).toBe(true);
    expect(whens[1][0].when - whens[0][0].when).toBeGreaterThanOrEqual(2);
    expect(whens[2][0].when - whens[1][0].when).toBeGreaterThanOrEqual(2);
  });

  it('leaves mixes and private words out unless they are soloed', async () => {
    const player = new TakePlayer(TAKE);
    void player.play();
    await pass(0.2);
    expect([...heard()]).toEqual([0, 1]);
    player.toggleMute('track-0');
    expect([...heard()]).toEqual([1]);
    player.toggleSolo('track-2');
    expect([...heard()]).toEqual([2]);
  });
});
