import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { database } from '../database';
import { demoEpisode, testDatabase } from '../testing/test-database';

const db = testDatabase();
afterAll(() => database().end());

type Method = 'GET' | 'PUT' | 'POST' | 'DELETE' | 'PATCH';
type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

const API = 'src/app/api';
const files = readdirSync(API, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('route.ts'));

/** Every handler there is: none can be forgotten by the tests below. */
const handlers = await Promise.all(
  files.map(async (file) => ({ file, module: (await import(/* @vite-ignore */ `../../../${join(API, file)}`)) as Partial<Record<Method, Handler>> })),
).then((modules) =>
  modules.flatMap(({ file, module }) => Object.entries(module).map(([method, handle]) => ({ file, method: method as Method, handle }))),
);

const HOST = '127.0.0.1:4870';
const own = { host: HOST, origin: `http://${HOST}` };

function request(method: Method, headers: Record<string, string>, body?: string | Uint8Array<ArrayBuffer>): Request {
  return new Request(`http://${HOST}/api`, { method, headers, body });
}

const anyParams = Promise.resolve({
  episode: crypto.randomUUID(),
  take: crypto.randomUUID(),
  track: crypto.randomUUID(),
  sound: crypto.randomUUID(),
  show: crypto.randomUUID(),
  index: '0',
});

describe('every route handler', () => {
  it('exists', () => expect(handlers.length).toBeGreaterThan(10));

  it.each(handlers)('$method $file refuses a request that names another machine', async ({ method, handle }) => {
    const response = await handle(request(method, { ...own, host: 'desk.example' }), { params: anyParams });
    expect(response.status).toBe(403);
    expect(await response.json()).toMatchObject({ code: 'not-this-machine' });
  });

  it.each(handlers.filter(({ method }) => method !== 'GET'))('$method $file refuses another page’s change', async ({ method, handle }) => {
    for (const origin of ['https://elsewhere.example', 'null', undefined]) {
      const headers = { host: HOST, ...(origin === undefined ? {} : { origin }) };
      const response = await handle(request(method, headers, '{}'), { params: anyParams });
      expect(response.status).toBe(403);
    }
  });

  it.each(handlers.filter(({ file }) => file.includes('[')))('$method $file says what is wrong with an address', async ({ method, handle }) => {
    const params = Promise.resolve({ episode: '1', take: "'; drop table take; --", track: 'x', sound: '../..', show: '0', index: '-1' });
    const response = await handle(request(method, own, method === 'GET' ? undefined : '{}'), { params });
    expect(response.status).toBe(400);
    expect(await response.json()).toMatchObject({ code: 'not-valid', issues: expect.any(Array) });
  });

  it.each(handlers.filter(({ file, method }) => method !== 'GET' && !file.includes('chunks')))(
    '$method $file refuses what is not JSON, not valid or too large',
    async ({ method, handle }) => {
      const send = async (body: string) => (await handle(request(method, own, body), { params: anyParams })).status;
      expect(await send('{"version":')).toBe(400);
      expect(await send('{"wrong":true}')).toBe(400);
      expect(await send(`"${'x'.repeat(17_000_000)}"`)).toBe(413);
    },
  );
});

describe('the plan’s address', () => {
  it('answers a change with the new version and a stale one with a conflict', async () => {
    const episode = await demoEpisode(db.pool());
    const params = Promise.resolve({ episode });
    const { GET, PUT } = (await import('@/app/api/episodes/[episode]/plan/route')) as { GET: Handler; PUT: Handler };
    const { version, plan } = (await (await GET(request('GET', own), { params })).json()) as { version: number; plan: object };
    const put = () => PUT(request('PUT', own, JSON.stringify({ version, plan })), { params });
    expect(await (await put()).json()).toEqual({ version: version + 1 });
    const stale = await put();
    expect(stale.status).toBe(409);
    expect(await stale.json()).toMatchObject({ code: 'plan-changed' });
  });
});

describe('a chunk’s address', () => {
  it('refuses a missing checksum and a body beyond the largest chunk', async () => {
    const { PUT } = (await import('@/app/api/takes/[take]/tracks/[track]/chunks/[index]/route')) as { PUT: Handler };
    const send = (headers: Record<string, string>, body: Uint8Array<ArrayBuffer>) =>
      PUT(request('PUT', { ...own, ...headers }, body), { params: anyParams });
    expect(await (await send({}, new Uint8Array(3))).json()).toMatchObject({ code: 'no-checksum' });
    const large = await send({ 'x-chunk-sha256': '0'.repeat(64) }, new Uint8Array(800_000));
    expect(large.status).toBe(413);
  });
});
