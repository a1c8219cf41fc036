import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DESK, type BoxMessage } from '@/core/lines/messages';
import { createRandom } from '@/core/random';
import { issueInvitation } from '../access/invitations';
import { database } from '../database';
import { addSeat } from '../seats/queries';
import { insertEpisode } from '../shows/queries';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { claimWindow, closeWindow, holdsWindow, keepWindow, openWindows, releaseWindow, takeWindow } from '../windows/queries';
import { iceServers } from './ice';
import { messagesAfter, newestMessage, postMessage } from './queries';
import { messageStream } from './stream';
import { stopListening, wakeFor } from './wake';

const db = testDatabase();
afterAll(async () => {
  await stopListening();
  await database().end();
});

const put = (episode: string, recipient: string, n: number) => postMessage(db.pool(), { episode, sender: 'test', recipient, body: { n } });
const numbers = (messages: BoxMessage[]) => messages.map(({ body }) => (body as unknown as { n: number }).n);

describe('the message box', () => {
  it('gives each recipient their own, in order, also when many write at once', async () => {
    const episode = await demoEpisode(db.pool());
    const after = await newestMessage(db.pool(), episode);
    const ids = await Promise.all(Array.from({ length: 40 }, (_, n) => put(episode, n % 2 ? 'runa' : 'ilyas', n)));
    const runa = await messagesAfter(db.pool(), episode, 'runa', after);
    expect(numbers(runa).sort((a, b) => a - b)).toEqual(Array.from({ length: 20 }, (_, k) => 2 * k + 1));
    expect(runa.map(({ id }) => id)).toEqual(runa.map(({ id }) => id).sort((a, b) => a - b));
    expect(new Set(ids).size).toBe(40);
    // Whoever was cut off in the middle gets exactly the rest.
    expect(await messagesAfter(db.pool(), episode, 'runa', runa[12].id)).toEqual(runa.slice(13));
  });

  it('has only so many streams of one reader; one that ends makes room', async () => {
    const episode = await demoEpisode(db.pool());
    const ends: AbortController[] = [];
    let givenBack = 0;
    const open = () => {
      const abort = new AbortController();
      ends.push(abort);
      return messageStream(db.pool(), { episode, recipient: 'priya', after: 0, greeting: {}, signal: abort.signal, stillThere: () => Promise.resolve(true), onEnd: () => Promise.resolve(void givenBack++) });
    };
    for (let k = 0; k < 40; k++) open();
    expect(open).toThrow(expect.objectContaining({ status: 503, code: 'too-many-streams' }));
    // The place the refused one had is given back as well.
    expect(givenBack).toBe(1);
    ends[0].abort();
    open();
    for (const end of ends) end.abort();
    await expect.poll(() => givenBack).toBe(42);
  });

  it('wakes whoever waits within a moment, and a stream carries what came before and after', async () => {
    const episode = await demoEpisode(db.pool());
    const after = await newestMessage(db.pool(), episode);
    await put(episode, 'priya', 1);
    const abort = new AbortController();
    let ended = 0;
    const response = messageStream(db.pool(), {
      episode, recipient: 'priya', after, greeting: { hello: true }, signal: abort.signal,
      stillThere: async () => true,
      onEnd: async () => void ended++,
    });
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    const until = async (words: string) => {
      while (!text.includes(words)) text += (await reader.read()).value ?? '';
    };
    await until('"n":1');
    await put(episode, 'priya', 2);
    await until('"n":2');
    expect(text.indexOf('event: open')).toBe(0);
    expect(text.match(/^id: /gm)).toHaveLength(3);
    abort.abort();
    expect((await reader.read()).done).toBe(true);
    expect(ended).toBe(1);
  });

  it('wakes again after the database has dropped the listener', async () => {
    const episode = await demoEpisode(db.pool());
    let woken = 0;
    const stop = wakeFor(episode, 'odalys', () => woken++);
    await put(episode, 'odalys', 1);
    await expect.poll(() => woken).toBeGreaterThan(0);
    await db.pool().query("select pg_terminate_backend(pid) from pg_stat_activity where query = 'listen message_box' and datname = current_database()");
    const before = woken;
    await expect.poll(() => woken, { timeout: 5000 }).toBeGreaterThan(before);
    stop();
  });
});

describe('a window', () => {
  const claim = (episode: string, window: string, stream: string) => claimWindow(db.pool(), { episode, party: 'tomasz', window, stream });
  const [a, b, one, two, three] = Array.from({ length: 5 }, () => crypto.randomUUID());

  it('has its place alone, gets it back after a reload, and gives it up when another takes it', async () => {
    const episode = await demoEpisode(db.pool());
    await claim(episode, a, one);
    await expect(claim(episode, b, two)).rejects.toMatchObject({ status: 409, code: 'open-elsewhere' });
    // The same window with a new stream; the old stream's end then changes nothing.
    await claim(episode, a, two);
    await releaseWindow(db.pool(), episode, 'tomasz', one);
    expect(await holdsWindow(db.pool(), episode, 'tomasz', a)).toBe(true);
    const after = await newestMessage(db.pool(), episode);
    await takeWindow(db.pool(), { episode, party: 'tomasz', window: b });
    await expect(claim(episode, a, two)).rejects.toMatchObject({ code: 'open-elsewhere' });
    await claim(episode, b, three);
    expect(await keepWindow(db.pool(), episode, 'tomasz', two)).toBe(false);
    expect((await messagesAfter(db.pool(), episode, 'tomasz', after)).map(({ body }) => body)).toEqual([{ type: 'ousted', by: b }]);
    await releaseWindow(db.pool(), episode, 'tomasz', three);
    expect(await openWindows(db.pool(), episode)).toEqual([]);
  });

  it('is free when its instance died, and of two that claim it at once one has it', async () => {
    const episode = await demoEpisode(db.pool());
    const claims = await Promise.allSettled([claim(episode, a, one), claim(episode, b, two)]);
    expect(claims.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    await db.pool().query("update open_window set seen_at = now() - interval '1 minute'");
    await claim(episode, crypto.randomUUID(), three);
    await closeWindow(db.pool(), episode, 'tomasz');
    expect(await openWindows(db.pool(), episode)).toEqual([]);
  });
});

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

describe('junk in the message box', () => {
  const HOST = '127.0.0.1:4870';
  const guests: { episode: string; seat: string; token: string; window: string }[] = [];
  beforeAll(async () => {
    process.env.DEMO = '1';
    const maker = { id: await demoAccount(db.pool()), name: 'Maren Sollis', email: 'm@ferry.example' };
    const { rows } = await db.pool().query<{ id: string }>('select id from show');
    const episodes = [await demoEpisode(db.pool()), await insertEpisode(db.pool(), rows[0].id, maker, { number: 99, title: 'Other', plannedAt: null, plannedMinutes: 60 })];
    for (const episode of episodes) {
      const { id } = await addSeat(db.pool(), episode, { name: 'Runa', fullName: 'Runa Velde', about: '', reflexive: 'herself', role: 'caller', line: 'link' });
      const window = crypto.randomUUID();
      const { token } = await issueInvitation(db.pool(), episode, id, 7);
      await claimWindow(db.pool(), { episode, party: id, window, stream: crypto.randomUUID() });
      guests.push({ episode, seat: id, token, window });
    }
  });

  it.each([1, 2, 3])('is refused or reaches the sender’s own desk, as it was allowed to be said (seed %i)', async (seed) => {
    const { POST } = (await import('@/app/api/guest/messages/route')) as { POST: Handler };
    const random = createRandom(seed);
    const [guest, other] = guests;
    const before = [await newestMessage(db.pool(), guest.episode), await newestMessage(db.pool(), other.episode)];
    const status = { type: 'status', page: crypto.randomUUID(), phase: 'ready', name: 'Runa', muted: false, microphone: null, echoDb: null, echoDelayMs: null, tested: false, echoCancellation: false, network: null };
    const candidate = { type: 'candidate', connection: crypto.randomUUID(), candidate: { candidate: 'candidate:1 1 udp 1 127.0.0.1 9 typ host', sdpMid: '0', sdpMLineIndex: 0 } };
    const description = { type: 'description', connection: crypto.randomUUID(), description: { type: 'answer', sdp: 'v=0\r\n' } };
    const good = [status, candidate, description];
    const values: unknown[] = [null, '', -1, 1e99, {}, [], 'x'.repeat(200), true, { type: 'hung-up' }, '../../..', '\u0000', Number.MAX_SAFE_INTEGER];
    const mangle = (body: Record<string, unknown>): unknown => {
      const keys = Object.keys(body);
      const key = keys[random.index(keys.length)];
      switch (random.index(5)) {
        case 0: return { ...body, [key]: values[random.index(values.length)] };
        case 1: return Object.fromEntries(Object.entries(body).filter(([name]) => name !== key));
        case 2: return { ...body, to: other.seat, episode: other.episode, recipient: other.seat };
        case 3: return values[random.index(values.length)];
        default: return body;
      }
    };
    let taken = 0;
    for (let n = 0; n < 150; n++) {
      const body = mangle(structuredClone(good[random.index(good.length)]));
      const window = random.index(10) === 0 ? crypto.randomUUID() : guest.window;
      const text = random.index(12) === 0 ? JSON.stringify({ window, body }).slice(0, 20) : random.index(20) === 0 ? `"${'x'.repeat(60_000)}"` : JSON.stringify({ window, body });
      const response = await POST(
        new Request(`http://${HOST}/api/guest/messages`, { method: 'POST', headers: { host: HOST, origin: `http://${HOST}`, authorization: `Bearer ${guest.token}` }, body: text }),
        { params: Promise.resolve({}) },
      );
      expect([200, 400, 409, 413]).toContain(response.status);
      if (response.ok) taken++;
    }
    const mine = await db.pool().query<{ recipient: string; sender: string }>('select recipient, sender from message where episode_id = $1 and id > $2', [guest.episode, before[0]]);
    expect(taken).toBeGreaterThan(10);
    expect(mine.rows).toHaveLength(taken);
    expect(new Set(mine.rows.map(({ recipient, sender }) => `${sender}>${recipient}`))).toEqual(new Set([`${guest.seat}>${DESK}`]));
    expect(await newestMessage(db.pool(), other.episode)).toBe(before[1]);
  });

  it('is limited', async () => {
    const { POST } = (await import('@/app/api/guest/messages/route')) as { POST: Handler };
    const [, guest] = guests;
    await db.pool().query(
      "insert into message (episode_id, sender, recipient, body) select $1, $2, 'desk', '{}' from generate_series(1, 600)",
      [guest.episode, guest.seat],
    );
    const body = JSON.stringify({ window: guest.window, body: { type: 'candidate', connection: crypto.randomUUID(), candidate: null } });
    const response = await POST(
      new Request(`http://${HOST}/api/guest/messages`, { method: 'POST', headers: { host: HOST, origin: `http://${HOST}`, authorization: `Bearer ${guest.token}` }, body }),
      { params: Promise.resolve({}) },
    );
    expect(response.status).toBe(429);
  });
});

describe('the servers that help browsers find each other', () => {
  it('get credentials that run out, by the secret shared with the relay', () => {
    const settings = { STUN_URLS: 'stun:relay.example:3478', TURN_URLS: 'turn:relay.example:3478, turns:relay.example:5349', TURN_SECRET: 'north' };
    const [stun, turn] = iceServers('runa', 1_700_000_000_000, settings);
    expect(stun).toEqual({ urls: ['stun:relay.example:3478'] });
    // HMAC-SHA1 of the user name under the secret, computed with openssl.
    expect(turn).toEqual({ urls: ['turn:relay.example:3478', 'turns:relay.example:5349'], username: '1700003600:runa', credential: 'p1O8JNUjKh/CVwo0iiRj7jV6E8c=' });
    expect(iceServers('runa', 0, {})).toEqual([]);
    expect(() => iceServers('runa', 0, { STUN_URLS: 'http://x' })).toThrow();
  });
});
