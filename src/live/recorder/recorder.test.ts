import { describe, expect, it } from 'vitest';
import { ringBytes, RING_BLOCK, RING_BLOCKS, ringReader, ringWriter } from './ring';
import { createUploader, RefusedError, type OutgoingChunk } from './uploader';

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

  function uploaderWith(answers: (() => Promise<Response>)[]) {
    const requests: { url: string; sha256: string }[] = [];
    const stored: number[] = [];
    const waits: string[] = [];
    const uploader = createUploader({
      onStored: ({ index }) => stored.push(index),
      onWaiting: (message) => waits.push(message),
      pause: () => Promise.resolve(),
      fetch: ((url: string, init: { headers: Record<string, string> }) => {
        requests.push({ url, sha256: init.headers['x-chunk-sha256'] });
        return (answers.shift() ?? (() => Promise.resolve(answer(200))))();
      }) as unknown as typeof fetch,
    });
    return { uploader, requests, stored, waits };
  }

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
      url: '/api/takes/t/tracks/a/chunks/0',
      sha256: '6e340b9cffb37a989ca544e6bb780a2c78901d3fb33738768511a30617afa01d',
    });
  });

  it('gives up on what the server will never take, and says why', async () => {
    const { uploader, stored } = uploaderWith([() => Promise.resolve(answer(409, 'take-sealed'))]);
    uploader.send(chunk(0));
    await expect(uploader.idle()).rejects.toThrow(RefusedError);
    await expect(uploader.idle()).rejects.toThrow('said take-sealed');
    expect(stored).toEqual([]);
  });

  it('keeps at most four chunks on their way', async () => {
    let open = 0;
    let most = 0;
    const slow = async () => {
      most = Math.max(most, ++open);
      await new Promise((resolve) => setTimeout(resolve, 2));
      open--;
      return answer(200);
    };
    const { uploader, stored } = uploaderWith(Array.from({ length: 20 }, () => slow));
    for (let k = 0; k < 20; k++) uploader.send(chunk(k));
    await uploader.idle();
    expect(stored.length).toBe(20);
    expect(most).toBe(4);
  });
});
