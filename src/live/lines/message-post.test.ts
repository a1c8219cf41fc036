import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ServerError } from '../api';
import { createMessagePost } from './message-post';

describe('the message post', () => {
  const answers: (() => Promise<Response>)[] = [];
  const posted: number[] = [];
  const refusals: ServerError[] = [];
  const open = () => createMessagePost('/api/messages', {}, (error) => refusals.push(error));
  const refuse = (status: number, code: string) => () => Promise.resolve(Response.json({ code, message: code }, { status }));
  const flush = () => vi.advanceTimersByTimeAsync(5000);

  beforeEach(() => {
    vi.useFakeTimers();
    answers.length = posted.length = refusals.length = 0;
    vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
      posted.push((JSON.parse(body) as { n: number }).n);
      return (answers.shift() ?? (() => Promise.resolve(Response.json({}))))();
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('brings messages in order, one behind another, whatever fails on the way', async () => {
    const post = open();
    answers.push(() => Promise.reject(new TypeError('network')), refuse(503, 'busy'), refuse(429, 'slow-down'));
    for (const n of [1, 2, 3]) post.send({ n });
    await flush();
    expect(posted).toEqual([1, 1, 1, 1, 2, 3]);
    expect(refusals).toEqual([]);
  });

  it('says what the server will not take, and goes on with the next', async () => {
    const post = open();
    answers.push(refuse(403, 'link-revoked'));
    for (const n of [1, 2]) post.send({ n });
    await flush();
    expect(posted).toEqual([1, 2]);
    expect(refusals.map(({ code }) => code)).toEqual(['link-revoked']);
  });

  it('waits while the place belongs to nobody, and says nothing more once it is closed', async () => {
    const post = open();
    answers.push(refuse(409, 'not-the-desk'));
    post.send({ n: 1 });
    await flush();
    expect(posted).toEqual([1, 1]);
    post.hold();
    post.send({ n: 2 });
    await flush();
    expect(posted).toEqual([1, 1]);
    post.go();
    await flush();
    expect(posted).toEqual([1, 1, 2]);
    post.hold();
    post.send({ n: 3 });
    post.close();
    await flush();
    expect(posted).toEqual([1, 1, 2]);
  });
});
