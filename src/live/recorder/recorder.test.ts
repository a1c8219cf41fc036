import type { ParcelEntry } from '@/core/takes/parcel';
import { describe, expect, it } from 'vitest';
import { keepRing, type FromKeeper } from './keep-ring';
import { ringBytes, RING_BLOCK, RING_BLOCKS, ringReader, ringWriter } from './ring';
import { createUploader, RefusedError, type OutgoingChunk } from './uploader';

describe('the keeper', () => {
  it('says so when it breaks down, whatever broke', async () => {
    const said: FromKeeper[] = [];
    // Too small to be a ring.
    keepRing({ folder: 'takes', take: 'x', part: 0, channels: 2, ring: new SharedArrayBuffer(8), origin: 0, nearSample: 0 }, (message) => said.push(message));
    await expect.poll(() => said.at(-1)?.type).toBe('failed');
    expect(said.at(-1)).toMatchObject({ message: expect.stringMatching(/./) });
  });
});

describe('the ring', () => {
  const memory = () => new SharedArrayBuffer(ringBytes(2));

  it('hands over blocks in order with their positions, many times round', () => {
    const shared = memory();
    const writer = ringWriter(shared, 2);
    const reader = ringReader(shared, 2);
    const seen: number[] = [];
    for (let k = 0; k < 3 * RING_BLOCKS; k++) {
      writer.next()!.fill(k);
      writer.commit(k * RING_BLOCK);
      if (k % 100 === 99) {
        reader.drain((position, channels) => {
          expect(channels[2 * RING_BLOCK - 1]).toBe(position / RING_BLOCK);
          seen.push(position);
        });
      }
    }
    writer.close();
    expect(reader.ended()).toBe(false);
    reader.drain((position) => seen.push(position));
    expect(reader.ended()).toBe(true);
    expect(seen).toEqual(Array.from({ length: 3 * RING_BLOCKS }, (_, k) => k * RING_BLOCK));
  });

  it('refuses to overwrite what was not read, and goes on once there is room', () => {
    const shared = memory();
    const writer = ringWriter(shared, 2);
    for (let k = 0; k < RING_BLOCKS; k++) {
      expect(writer.next()).not.toBeNull();
      writer.commit(k);
    }
    expect(writer.next()).toBeNull();
    ringReader(shared, 2).drain(() => undefined);
    expect(writer.next()).not.toBeNull();
  });
});

describe('the uploader', () => {
  const chunk = (index: number): OutgoingChunk => ({ take: 't', track: 'a', index, bytes: Uint8Array.of(index) });
  const answer = (status: number, code = 'x') => Response.json({ code, message: `said ${code}` }, { status });

  const PATIENCE_MS = 20;

  function uploaderWith(answers: ((signal: AbortSignal) => Promise<Response>)[]) {
    const requests: { url: string; chunks: ParcelEntry[]; bytes: number[] }[] = [];
    const stored: number[] = [];
    const waits: string[] = [];
    const uploader = createUploader({
      onStored: ({ index }) => stored.push(index),
      onWaiting: ({ message }) => waits.push(message),
      pause: () => Promise.resolve(),
      patience: () => PATIENCE_MS,
      fetch: (async (url: string, { headers, body, signal }: { headers: Record<string, string>; body: Blob; signal: AbortSignal }) => {
        requests.push({ url, chunks: JSON.parse(headers['x-chunks']) as ParcelEntry[], bytes: [...new Uint8Array(await body.slice(0, 100).arrayBuffer())] });
        return (answers.shift() ?? (() => Promise.resolve(answer(200))))(signal);
      }) as unknown as typeof fetch,
    });
    return { uploader, requests, stored, waits };
  }

  it('gives a request up that nobody answers, and sends it again', async () => {
    const unanswered = (signal: AbortSignal) => new Promise<Response>((_, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error)));
    const { uploader, requests, stored } = uploaderWith([unanswered, unanswered]);
    uploader.send(chunk(0));
    await uploader.idle();
    expect(stored).toEqual([0]);
    expect(requests.length).toBe(3);
  });

  it('sends again what did not get through: no server, a failing server, damage on the way', async () => {
    const { uploader, requests, stored, waits } = uploaderWith([
      () => Promise.reject(new TypeError('network')),
      () => Promise.resolve(answer(503)),
      () => Promise.resolve(answer(422, 'checksum')),
    ]);
    uploader.send(chunk(0));
    await uploader.idle();
    expect(stored).toEqual([0]);
    expect(requests.length).toBe(4);
    expect(waits[0]).toBe('The server cannot be reached.');
    // SHA-256 of the single byte 0.
    expect(requests[3]).toEqual({
      url: '/api/takes/t/chunks',
      chunks: [{ track: 'a', index: 0, sha256: '6e340b9cffb37a989ca544e6bb780a2c78901d3fb33738768511a30617afa01d', bytes: 1 }],
      bytes: [0],
    });
  });

  it('gives up on what the server will never take, and says why', async () => {
    const { uploader, stored } = uploaderWith([() => Promise.resolve(answer(409, 'take-sealed'))]);
    uploader.send(chunk(0));
    await expect(uploader.idle()).rejects.toThrow(RefusedError);
    await expect(uploader.idle()).rejects.toThrow('said take-sealed');
    expect(stored).toEqual([]);
  });

  it('sends what is given in one go together, within bounds, and never more than three parcels at once', async () => {
    let open = 0;
    let most = 0;
    let waiting: (() => void)[] = [];
    // Three are answered together, a moment after the third came: a fourth would be seen, however slow the machine.
    const slow = () =>
      new Promise<Response>((resolve) => {
        most = Math.max(most, ++open);
        waiting.push(() => {
          open--;
          resolve(answer(200));
        });
        if (waiting.length < 3) return;
        const three = waiting;
        waiting = [];
        setTimeout(() => three.forEach((finish) => finish()), 5);
      });
    const { uploader, requests, stored } = uploaderWith(Array.from({ length: 20 }, () => slow));
    for (let k = 0; k < 60; k++) uploader.send(chunk(k));
    await uploader.idle();
    expect(requests.map(({ chunks }) => chunks.length)).toEqual([24, 24, 12]);
    expect(requests.flatMap(({ bytes }) => bytes)).toEqual(Array.from({ length: 60 }, (_, k) => k));
    for (let k = 60; k < 66; k++) uploader.send({ ...chunk(k), take: k % 2 === 0 ? 't' : 'u', bytes: new Uint8Array(3 * 2 ** 20) });
    await uploader.idle();
    // Another take, or too many bytes, is another parcel.
    expect(requests.slice(3).map(({ chunks }) => chunks.length)).toEqual([1, 1, 1, 1, 1, 1]);
    expect(stored.length).toBe(66);
    expect(most).toBe(3);
  });
});
