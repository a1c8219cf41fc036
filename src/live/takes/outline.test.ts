import { afterEach, describe, expect, it, vi } from 'vitest';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import type { TakeData, TakeTrack } from '@/core/session/take-data';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { loadOutline } from './outline';

const TRACK = { id: 'a', format: 'pcm24', channels: 2 } as TakeTrack;
const TAKE = { id: 't', lengthSamples: 3 * CHUNK_FRAMES, tracks: [TRACK] } as TakeData;
/** Right is louder than left, and one sample is where the chunks meet. */
const left = (at: number) => 0.2 * Math.sin(at / 50);
const right = (at: number) => (at === CHUNK_FRAMES ? -0.9 : 0.5 * Math.sin(at / 70));

describe('an outline', () => {
  const asked: string[] = [];
  afterEach(() => void vi.unstubAllGlobals());
  const serve = () => {
    asked.length = 0;
    vi.stubGlobal('fetch', (url: string) => {
      asked.push(url);
      const index = Number(/chunks\/(\d+)$/.exec(url)?.[1]);
      const of = (sound: (at: number) => number) => Float32Array.from({ length: CHUNK_FRAMES }, (_, k) => sound(index * CHUNK_FRAMES + k));
      return Promise.resolve(new Response(Number.isNaN(index) ? new Uint8Array(8) : encodeSamples('pcm24', [of(left), of(right)], 0, CHUNK_FRAMES)));
    });
  };
  const load = (from: number, to: number, columns: number) => loadOutline(TAKE, TRACK, { from, to }, columns, new AbortController().signal);

  it('that is looked at closely is the samples’ own, across the end of a chunk', async () => {
    serve();
    const [from, to, columns] = [CHUNK_FRAMES - 1000, CHUNK_FRAMES + 2000, 300];
    const outline = await load(from, to, columns);
    expect(asked).toHaveLength(2);
    const wanted = Array.from({ length: columns }, (_, column) => {
      const values = Array.from({ length: 10 }, (_, k) => from + 10 * column + k).flatMap((at) => [left(at), right(at)]);
      return [Math.min(0, ...values), Math.max(0, ...values)];
    });
    const off = [...outline.columns].map((value, k) => Math.abs(value / 32767 - wanted[Math.floor(k / 2)][k % 2]));
    expect(Math.max(...off)).toBeLessThan(1e-4);
    expect(outline.columns[2 * 100]).toBe(Math.round(-0.9 * 32767));
  });

  it('has a column a sample and no more where fewer samples than columns are seen', async () => {
    serve();
    expect((await load(500, 740, 700)).columns).toHaveLength(2 * 240);
  });

  it('of a long stretch comes from what the server keeps', async () => {
    serve();
    await load(0, 3 * CHUNK_FRAMES, 400);
    expect(asked).toEqual(['/api/takes/t/tracks/a/peaks?columns=400&from=0&to=288000']);
  });
});
