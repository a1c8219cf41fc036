import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { openMessageStream } from './message-stream';

/** A server whose streams the test writes to and breaks. */
function fakeServer() {
  const streams: { asked: string | null; write(text: string): void; end(): void }[] = [];
  const server = { streams, refuse: null as { status: number; code: string } | null, away: false, greetsAfterMs: null as number | null };
  vi.stubGlobal('window', new EventTarget());
  vi.stubGlobal('fetch', (_: string, { headers, signal }: { headers: Record<string, string>; signal: AbortSignal }) => {
    if (server.away) return Promise.reject(new TypeError('network'));
    if (server.refuse) return Promise.resolve(Response.json({ code: server.refuse.code, message: 'no' }, { status: server.refuse.status }));
    let controller: ReadableStreamDefaultController<Uint8Array>;
    const body = new ReadableStream<Uint8Array>({ start: (one) => void (controller = one) });
    const greeting = server.greetsAfterMs === null ? undefined : setTimeout(() => controller.enqueue(new TextEncoder().encode('event: open\nid: 7\ndata: {}\n\n')), server.greetsAfterMs);
    signal.addEventListener('abort', () => {
      clearTimeout(greeting);
      controller.error(new Error('aborted'));
    });
    streams.push({
      asked: headers['last-event-id'] ?? null,
      write: (text) => controller.enqueue(new TextEncoder().encode(text)),
      end: () => controller.close(),
    });
    return Promise.resolve(new Response(body));
  });
  return server;
}

const message = (id: number) => `id: ${id}\ndata: ${JSON.stringify({ id, sender: 'x', body: { n: id } })}\n\n`;

describe('the stream of messages', () => {
  const got: number[] = [];
  const events: string[] = [];
  const open = () =>
    openMessageStream({
      url: '/messages',
      onOpen: () => events.push('open'),
      onMessage: ({ id }) => got.push(id),
      onAway: () => events.push('away'),
      onRefused: (code) => events.push(`refused ${code}`),
    });
  beforeEach(() => {
    got.length = events.length = 0;
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const settle = () => vi.advanceTimersByTimeAsync(5);

  it('hands over each message once and in order, and asks for the rest after a loss', async () => {
    const server = fakeServer();
    const stream = open();
    await settle();
    expect(server.streams[0].asked).toBeNull();
    server.streams[0].write(`event: open\nid: 7\ndata: {}\n\n${message(8)}${message(8)}${message(9)}`);
    // A message may come in two pieces.
    server.streams[0].write(message(10).slice(0, 12));
    server.streams[0].write(message(10).slice(12));
    await settle();
    expect(got).toEqual([8, 9, 10]);
    server.streams[0].end();
    await vi.advanceTimersByTimeAsync(300);
    expect(server.streams[1].asked).toBe('10');
    server.streams[1].write(`event: open\nid: 10\ndata: {}\n\n${message(9)}${message(11)}`);
    await settle();
    expect(got).toEqual([8, 9, 10, 11]);
    expect(events).toEqual(['open', 'away', 'open']);
    stream.close();
  });

  it('waits longer for a server that is slow to greet, and no longer than before for one that has fallen silent', async () => {
    const server = fakeServer();
    server.greetsAfterMs = 25_000;
    const stream = open();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(events.at(-1)).toBe('open');
    await vi.advanceTimersByTimeAsync(11_000);
    expect(events.at(-1)).toBe('away');
    stream.close();
  });

  it('takes silence for a loss, tries again while the server is away, and at once when the network is back', async () => {
    const server = fakeServer();
    const stream = open();
    await settle();
    server.away = true;
    await vi.advanceTimersByTimeAsync(30_000);
    expect(events.filter((event) => event === 'away').length).toBeGreaterThan(5);
    server.away = false;
    window.dispatchEvent(new Event('online'));
    await settle();
    expect(server.streams).toHaveLength(2);
    stream.close();
  });

  it('ends when it is refused, by the answer or in the stream, and not when the server fails', async () => {
    const server = fakeServer();
    server.refuse = { status: 503, code: 'down' };
    const stream = open();
    await vi.advanceTimersByTimeAsync(1000);
    expect(events.every((event) => event === 'away')).toBe(true);
    server.refuse = { status: 410, code: 'link-revoked' };
    await vi.advanceTimersByTimeAsync(3000);
    expect(events.at(-1)).toBe('refused link-revoked');
    server.refuse = null;
    await vi.advanceTimersByTimeAsync(5000);
    expect(server.streams).toHaveLength(0);
    stream.close();
    const second = open();
    await settle();
    server.streams[0].write('event: refused\ndata: {"code":"open-elsewhere","message":"no"}\n\n');
    await settle();
    expect(events.at(-1)).toBe('refused open-elsewhere');
    second.close();
  });
});
