// Long, because it asks every route of the product the same questions, as everybody who could: what one kind of route refuses, all do.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ShowRole } from '@/core/access/rights';
import { noteWay, trustedProxies } from '../../../scripts/forwarded.mjs';
import { setMember, insertAccount, insertColleagueLink, listColleagueLinks, listMembers, removeMember, revokeColleagueLink, roleIn } from '../access/accounts';
import { callerAddress, callerNetwork } from '../access/caller-address';
import { errorResponse } from './errors';
import { isSecure } from './public-address';
import { findGuest, issueInvitation } from '../access/invitations';
import { beginSignIn, SIGN_IN_COOKIE } from '../access/sign-ins';
import { newToken } from '../access/tokens';
import { NEW_STATION } from '@/core/air/station';
import { addStation } from '../air/stations';
import { beginBroadcast } from '../air/broadcasts';
import { database, inTransaction } from '../database';
import { stopListening } from '../message-box/wake';
import { beginHome } from '../home/receive-home';
import { addSeat, insertConsent } from '../seats/queries';
import { insertEpisode, insertShow } from '../shows/queries';
import { insertTask } from '../jobs/tasks';
import { beginTake } from '../takes/begin-take';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { EVERYBODY, GUESTS, MAY, WATCH, WORK } from '../testing/who-may';

const asking = vi.hoisted(() => ({ headers: new Headers() }));
vi.mock('next/headers', () => ({ headers: () => Promise.resolve(asking.headers), cookies: () => Promise.resolve({ get: () => undefined }) }));

const db = testDatabase();
afterAll(async () => {
  await stopListening();
  await database().end();
});

type Method = 'GET' | 'PUT' | 'POST' | 'DELETE' | 'PATCH';
type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

const API = 'src/app/api';
const files = readdirSync(API, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('route.ts'));

/** Every handler there is: none can be forgotten by the tests below. */
const handlers = await Promise.all(
  files.map(async (file) => ({ file, module: (await import(/* @vite-ignore */ `../../../${join(API, file)}`)) as Partial<Record<Method, Handler>> })),
).then((modules) =>
  modules.flatMap(({ file, module }) => Object.entries(module).map(([method, handle]) => ({ name: `${method} ${file.replace(/\/?route\.ts$/, '')}`, file, method: method as Method, handle }))),
);

const HOST = '127.0.0.1:4870';
/** As our own server notes that somebody at this machine asks. */
const HERE = { 'x-lantern-peer': '127.0.0.1', 'x-lantern-way': 'direct' };
const own = { host: HOST, origin: `http://${HOST}`, ...HERE };
/** The demo signs in whoever asks from this machine; these ask from another. */
const AWAY = { host: 'desk.example', origin: 'https://desk.example' };

function request(method: Method, headers: Record<string, string>, body?: string | Uint8Array<ArrayBuffer>): Request {
  const abort = new AbortController();
  // Event streams end by themselves: nobody stays to read them.
  setTimeout(() => abort.abort(), 50);
  return new Request(`http://${HOST}/api?window=${crypto.randomUUID()}&as=watcher`, { method, headers, body, signal: abort.signal });
}

/** The things the addresses below name, all of one show. */
const world: Record<string, string> = { index: '0', account: crypto.randomUUID(), signIn: crypto.randomUUID(), link: crypto.randomUUID() };
const someone: Record<string, Record<string, string>> = { stranger: {} };

beforeAll(async () => {
  process.env.DEMO = '1';
  const pool = db.pool();
  const owner = await demoAccount(pool);
  const episode = await demoEpisode(pool);
  const { rows } = await pool.query<{ show_id: string; sound: string }>('select show_id, (select id from sound limit 1) as sound from episode');
  const show = rows[0].show_id;
  const member = async (name: string, role: ShowRole | null) => {
    const account = await insertAccount(pool, { email: `${name}@ferry.example`, name, passwordHash: 'none' });
    if (role) await setMember(pool, show, account, role);
    someone[name] = { cookie: `${SIGN_IN_COOKIE}=${await beginSignIn(pool, account)}` };
    return account;
  };
  someone.owner = { cookie: `${SIGN_IN_COOKIE}=${await beginSignIn(pool, owner)}` };
  await member('host', 'host');
  await member('producer', 'producer');
  const outsider = { id: await member('elsewhere', null), name: 'Elsewhere', email: 'elsewhere@ferry.example' };
  const otherShow = await insertShow(pool, outsider, 'Another show');
  const otherEpisode = await insertEpisode(pool, otherShow, outsider, { number: 1, title: 'One', plannedAt: null, plannedMinutes: 60 });
  const invite = async (where: string) => {
    const seat = await addSeat(pool, where, { name: 'Guest', fullName: 'A Guest', about: '', reflexive: 'themselves', role: 'caller', line: 'link' });
    return { seat: seat.id, headers: { authorization: `Bearer ${(await issueInvitation(pool, where, seat.id, 7)).token}` } };
  };
  const guest = await invite(episode);
  someone.guest = guest.headers;
  someone['guest of another episode'] = (await invite(otherEpisode)).headers;
  const take = await beginTake(pool, episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
  const task = await insertTask(pool, take.take, { kind: 'check', params: {} });
  await pool.query(`update task set state = 'done' where id = $1`, [task]);
  await pool.query(`insert into export_file (task_id, file_name, media_type, length_bytes) values ($1, 'a.wav', 'audio/wav', 0)`, [task]);
  await insertConsent(pool, episode, { seat: guest.seat, name: 'Guest', wording: 'yes' });
  const lineTake = await beginTake(pool, episode, [{ kind: 'voice', recorded: `voice:${guest.seat}`, name: 'Guest', channels: 1, format: 'pcm24' }]);
  const home = await beginHome(pool, await findGuest(pool, guest.headers.authorization.slice(7)), lineTake.take);
  someone['recorder at home'] = { authorization: `Bearer ${home.key}` };
  const station = await addStation(pool, show, NEW_STATION, null);
  const broadcast = await beginBroadcast(pool, episode, station.id);
  Object.assign(world, { task, home: home.home, show, episode, seat: guest.seat, take: take.take, track: take.tracks[0], sound: rows[0].sound, station: station.id, broadcast: broadcast.id });
});

/** These name somebody or something that is not there: whoever may is told so. */
const ABSENT = ['DELETE shows/[show]/members/[account]', 'DELETE shows/[show]/links/[link]', 'DELETE shows/[show]/stations/[station]'];

/** A seat of its own with a link, for a handler that may take it away. */
async function invitedSeat(): Promise<string> {
  const { id } = await addSeat(db.pool(), world.episode, { name: 'Passing', fullName: 'A Passing Guest', about: '', reflexive: 'themselves', role: 'caller', line: 'link' });
  await issueInvitation(db.pool(), world.episode, id, 7);
  return id;
}

/** Answers that mean "not you": what a request lacks otherwise is found out only after that. */
async function refuses(response: Response): Promise<boolean> {
  const { code } = (await response.clone().json().catch(() => ({}))) as { code?: string };
  return [401, 403, 404].includes(response.status) && ['sign-in', 'not-allowed', 'not-found', 'link-unknown'].includes(code ?? '');
}

describe('every route handler', () => {
  it('is in the table of who may ask', () => expect(handlers.map(({ name }) => name).sort()).toEqual(Object.keys(MAY).sort()));

  it.each(handlers)('$name answers those who may, and nobody else', async ({ name, method, handle }) => {
    const answers: Record<string, boolean> = {};
    // Wrong links are counted, and all of these come from one place.
    await db.pool().query('delete from attempt_count');
    for (const who of EVERYBODY) {
      const seat = name.includes('[seat]') ? await invitedSeat() : null;
      // What is not valid stops most of those who may before anything is changed.
      const response = await handle(request(method, { ...AWAY, ...someone[who] }, method === 'GET' ? undefined : '"?"'), { params: Promise.resolve({ ...world, ...(seat && { seat }) }) });
      if (seat) await db.pool().query('delete from seat where id = $1', [seat]);
      answers[who] = !(await refuses(response)) || (ABSENT.includes(name) && response.status === 404 && who === 'owner');
      await response.body?.cancel().catch(() => undefined);
    }
    expect(answers).toEqual(Object.fromEntries(EVERYBODY.map((who) => [who, MAY[name].includes(who)])));
  });

  it.each(handlers.filter(({ method }) => method !== 'GET'))('$name refuses another page’s change', async ({ method, handle }) => {
    for (const origin of ['https://elsewhere.example', 'null', undefined]) {
      const headers = { host: HOST, ...someone.owner, ...(origin === undefined ? {} : { origin }) };
      const response = await handle(request(method, headers, '{}'), { params: Promise.resolve(world) });
      expect(response.status).toBe(403);
    }
  });

  it.each(handlers.filter(({ file }) => file.includes('[')))('$name says what is wrong with an address', async ({ method, handle }) => {
    const params = Promise.resolve({ episode: '1', take: "'; drop table take; --", track: 'x', sound: '../..', show: '0', home: 'x', index: '-1', seat: 'A B', account: '7', station: '?', broadcast: '1', signIn: 'x' });
    const response = await handle(request(method, { ...own, ...someone.owner }, method === 'GET' ? undefined : '{}'), { params });
    expect(response.status).toBe(400);
    expect(await response.json()).toMatchObject({ code: 'not-valid', issues: expect.any(Array) });
  });

  const withBody = handlers.filter(({ name, method }) => method !== 'GET' && name !== 'POST guest/opened' && !name.includes('chunks') && !name.includes('pieces') && name !== 'PUT shows/[show]/cover' && name !== 'POST shows/[show]/sounds' && (method !== 'DELETE' || name === 'DELETE sign-in'));
  it.each(withBody)('$name refuses what is not JSON, not valid or too large', async ({ name, method, handle }) => {
    const credentials = name.includes('[home]') ? someone['recorder at home'] : name.includes('guest') ? someone.guest : someone.owner;
    const send = async (body: string) => (await handle(request(method, { ...own, ...credentials }, body), { params: Promise.resolve(world) })).status;
    expect(await send('{"version":')).toBe(400);
    expect(await send('["wrong"]')).toBe(400);
    expect(await send(`"${'x'.repeat(17_000_000)}"`)).toBe(413);
  });
});

const PAGES = 'src/app';
const pageFiles = readdirSync(PAGES, { recursive: true, encoding: 'utf8' }).filter((name) => /(^|\/)page\.tsx$/.test(name));

describe('every page', () => {
  beforeEach(() => (asking.headers = new Headers(AWAY)));

  /** The pages that show something of a show; the others show a form, or what a link's owner may see. */
  const MEMBERS_ONLY = ['page.tsx', 'checks/[episode]/page.tsx', 'episodes/[episode]/prepare/page.tsx', 'episodes/[episode]/hearing/in-and-out/page.tsx', 'episodes/[episode]/settings/page.tsx', 'episodes/[episode]/sounds/page.tsx', 'episodes/[episode]/takes/page.tsx', 'episodes/[episode]/takes/[take]/page.tsx'];
  /** And of these, only those who may change what they show. */
  const FOR_WORK = ['shows/[show]/settings/page.tsx'];
  /** Of whoever is signed in alone. */
  const OWN = ['account/page.tsx'];
  const OPEN = ['reset/[token]/page.tsx', 'sign-in/page.tsx', 'welcome/page.tsx', 'colleague/[token]/page.tsx', 'join/[token]/page.tsx'];
  /** Behind the layout of their episode, which asks; they load nothing themselves. */
  const BEHIND_LAYOUT = ['episodes/[episode]/check/page.tsx', 'episodes/[episode]/hearing/page.tsx', 'episodes/[episode]/live/page.tsx'];

  it('is known to this test', () => expect(pageFiles.sort()).toEqual([...MEMBERS_ONLY, ...FOR_WORK, ...OWN, ...OPEN, ...BEHIND_LAYOUT].sort()));

  it.each([...MEMBERS_ONLY, ...FOR_WORK, 'episodes/[episode]/layout.tsx'])('%s is for those who work on the show', async (file) => {
    const { default: page } = (await import(/* @vite-ignore */ `../../app/${file}`)) as { default: (props: object) => Promise<unknown> };
    const opened: Record<string, string> = {};
    for (const who of EVERYBODY) {
      asking.headers = new Headers({ ...AWAY, ...someone[who] });
      opened[who] = await page({ params: Promise.resolve(world), children: null }).then(
        () => 'opens',
        (error: { digest?: string }) => (error.digest?.startsWith('NEXT_REDIRECT') ? 'signs in' : 'is not there'),
      );
    }
    const outsiders = Object.fromEntries(['stranger', ...GUESTS, 'recorder at home'].map((who) => [who, 'signs in']));
    const members = Object.fromEntries(WATCH.map((who) => [who, FOR_WORK.includes(file) && !WORK.includes(who) ? 'is not there' : 'opens']));
    expect(opened).toEqual({ ...outsiders, ...members, elsewhere: file === 'page.tsx' ? 'opens' : 'is not there' });
  });

  it('a page of another show is not there, and its take neither', async () => {
    asking.headers = new Headers({ ...AWAY, ...someone.elsewhere });
    const { default: page } = (await import('@/app/episodes/[episode]/takes/[take]/page')) as { default: (props: object) => Promise<unknown> };
    const { rows } = await db.pool().query<{ id: string }>("select episode.id from episode join show on show.id = show_id where name = 'Another show'");
    await expect(page({ params: Promise.resolve({ ...world, episode: rows[0].id }) })).rejects.toMatchObject({ digest: expect.stringContaining('404') });
  });
});

describe('the plan’s address', () => {
  it('answers a change with the new version and a stale one with a conflict', async () => {
    const params = Promise.resolve({ episode: world.episode });
    const { GET, PUT } = (await import('@/app/api/episodes/[episode]/plan/route')) as { GET: Handler; PUT: Handler };
    // The demo's host is signed in at this machine without a cookie.
    const { version, plan } = (await (await GET(request('GET', own), { params })).json()) as { version: number; plan: object };
    const put = (waiting: string[]) => PUT(request('PUT', own, JSON.stringify({ version, plan: { ...plan, waiting } })), { params });
    expect(await (await put([])).json()).toEqual({ version: version + 1 });
    // Whoever had no answer asks again; another change from the same version is another window's.
    expect(await (await put([])).json()).toEqual({ version: version + 1 });
    const stale = await put(['tomasz']);
    expect(stale.status).toBe(409);
    expect(await stale.json()).toMatchObject({ code: 'plan-changed' });
  });
});

describe('the address of chunks', () => {
  it('refuses what does not say what it is, what is shorter than it says, and what is too large', async () => {
    const { PUT } = (await import('@/app/api/takes/[take]/chunks/route')) as { PUT: Handler };
    const send = async (said: string | null, body: Uint8Array<ArrayBuffer>) =>
      PUT(request('PUT', { ...own, ...(said === null ? {} : { 'x-chunks': said }) }, body), { params: Promise.resolve(world) });
    const entry = { track: world.track, index: 0, sha256: '0'.repeat(64), bytes: 3 };
    expect(await (await send(null, new Uint8Array(3))).json()).toMatchObject({ code: 'not-json' });
    for (const wrong of [{ ...entry, sha256: 'none' }, { ...entry, index: -1 }, { ...entry, bytes: 800_000 }, { ...entry, track: 'mine' }]) {
      expect(await (await send(JSON.stringify([wrong]), new Uint8Array(3))).json()).toMatchObject({ code: 'not-valid' });
    }
    expect(await (await send('[]', new Uint8Array(3))).json()).toMatchObject({ code: 'not-valid' });
    expect(await (await send(JSON.stringify([entry, entry]), new Uint8Array(3))).json()).toMatchObject({ code: 'checksum' });
    expect(await (await send(JSON.stringify([entry]), new Uint8Array(3))).json()).toMatchObject({ code: 'checksum' });
    expect((await send(JSON.stringify([entry]), new Uint8Array(7_000_000))).status).toBe(413);
  });
});

describe('the demo’s own sign-in', () => {
  const status = async (headers: Record<string, string>, peer = '127.0.0.1', trusted = '') => {
    const { GET } = (await import('@/app/api/episodes/[episode]/plan/route')) as { GET: Handler };
    const noted = { host: HOST, ...headers };
    noteWay(noted, peer, trustedProxies(trusted));
    return (await GET(request('GET', noted), { params: Promise.resolve({ episode: world.episode }) })).status;
  };

  it('is for this machine only, and for nobody that a proxy asks for', async () => {
    expect(await status({})).toBe(200);
    for (const said of ['forwarded', 'x-forwarded-for', 'x-real-ip', 'x-forwarded-host', 'via']) expect(await status({ [said]: said === 'forwarded' ? 'for=127.0.0.1' : '127.0.0.1' }), said).toBe(401);
    expect(await status({ 'x-forwarded-for': '127.0.0.1' }, '127.0.0.1', '127.0.0.1')).toBe(401);
    expect(await status({}, '203.0.113.9')).toBe(401);
    expect(await status({ host: 'desk.example' })).toBe(401);
    // What only our own server may say is not believed when a request says it.
    expect(await status({ 'x-lantern-way': 'direct', 'x-lantern-peer': '127.0.0.1', via: 'x' })).toBe(401);
    process.env.PUBLIC_URL = 'https://desk.example';
    expect(await status({})).toBe(401);
    delete process.env.PUBLIC_URL;
    process.env.DEMO = '0';
    expect(await status({})).toBe(401);
    process.env.DEMO = '1';
  });
});

describe('where a request came from', () => {
  const way = (headers: Record<string, string>, peer: string, trusted: string) => {
    noteWay(headers, peer, trustedProxies(trusted));
    return { address: callerAddress(new Headers(headers)), network: callerNetwork(new Headers(headers)), secure: isSecure(new Request('http://x', { headers })) };
  };

  it('is what the connection says, and what a proxy says that the operator named', () => {
    expect(way({ 'x-forwarded-for': '1.2.3.4', 'x-forwarded-proto': 'https' }, '198.51.100.7', '')).toEqual({ address: '198.51.100.7', network: '198.51.100', secure: false });
    expect(way({ 'x-forwarded-for': '6.6.6.6, 203.0.113.9', 'x-forwarded-proto': 'https' }, '::ffff:10.0.0.2', '10.0.0.2')).toEqual({ address: '203.0.113.9', network: '203.0.113', secure: true });
    expect(way({ 'x-forwarded-for': '6.6.6.6, 203.0.113.9, 10.0.0.3' }, '10.0.0.2', '10.0.0.2,10.0.0.3').address).toBe('203.0.113.9');
    expect(way({ 'x-forwarded-for': '2001:db8:7:1::9' }, '10.0.0.2', '10.0.0.2').network).toBe('2001:db8:7');
  });
});

describe('what the database is short of', () => {
  it('is said in words, and nothing is called a failure of the server that is none', async () => {
    for (const [code, status] of [['53100', 507], ['53300', 503], ['57014', 503], ['57P01', 503]] as const) {
      const response = errorResponse(Object.assign(new Error('could not extend file'), { code }));
      expect(response.status).toBe(status);
      expect((await response.json()).message).toMatch(/sent when there is room|Try again/);
    }
    expect(errorResponse(new Error('a fault of ours')).status).toBe(500);
  });
});

describe('what a request says', () => {
  it('holds no NUL, in names, keys or the address', async () => {
    const { POST } = (await import('@/app/api/episodes/[episode]/seats/route')) as { POST: Handler };
    const { PUT } = (await import('@/app/api/episodes/[episode]/route')) as { PUT: Handler };
    const params = Promise.resolve(world);
    const answer = async (response: Promise<Response>) => ((await response).json() as Promise<{ code: string }>).then(({ code }) => code);
    expect(await answer(POST(request('POST', { ...own, ...someone.owner }, JSON.stringify({ name: 'Ru\0na', fullName: 'Runa' })), { params }))).toBe('not-valid');
    // A number that another episode has.
    const maker = { id: await demoAccount(db.pool()), name: 'Maren', email: 'm@ferry.example' };
    await insertEpisode(db.pool(), world.show, maker, { number: 77, title: 'Seventy-seven', plannedAt: null, plannedMinutes: 60 });
    expect(await answer(PUT(request('PUT', { ...own, ...someone.owner }, JSON.stringify({ number: 77, title: 'Other' })), { params }))).toBe('number-taken');
  });
});

describe('an event stream', () => {
  it('is for the product’s own pages, whatever cookies come with a request', async () => {
    const { GET } = (await import('@/app/api/episodes/[episode]/messages/route')) as { GET: Handler };
    const ask = (site: string | null) => {
      const headers = { ...own, ...someone.owner, ...(site === null ? {} : { 'sec-fetch-site': site }) };
      return GET(new Request(`http://${HOST}/api?window=${crypto.randomUUID()}&as=desk`, { headers }), { params: Promise.resolve(world) });
    };
    for (const site of ['cross-site', 'same-site', 'none']) expect((await ask(site)).status, site).toBe(403);
    const response = await ask('same-origin');
    expect(response.status).toBe(200);
    await response.body?.cancel();
  });

  it('ends at the next beat when its reader was signed out, or may not any more', { timeout: 30_000 }, async () => {
    const { GET } = (await import('@/app/api/episodes/[episode]/messages/route')) as { GET: Handler };
    const account = await insertAccount(db.pool(), { email: 'passing@ferry.example', name: 'Passing', passwordHash: 'x' });
    await setMember(db.pool(), world.show, account, 'host');
    const token = await beginSignIn(db.pool(), account);
    const windows = [crypto.randomUUID(), crypto.randomUUID()];
    await db.pool().query('delete from open_window');
    const open = async (as: string, window: string) => (await GET(new Request(`http://${HOST}/api?window=${window}&as=${as}`, { headers: { ...AWAY, cookie: `${SIGN_IN_COOKIE}=${token}` } }), { params: Promise.resolve(world) })).body!.getReader();
    const readers = [await open('watcher', windows[0]), await open('desk', windows[1])];
    const began = performance.now();
    await removeMember(db.pool(), world.show, account);
    for (const reader of readers) while (!(await reader.read()).done);
    expect(performance.now() - began).toBeLessThan(9000);
    const held = async () => (await db.pool().query('select 1 from open_window where window_id = any($1)', [windows])).rowCount;
    await expect.poll(held).toBe(0);
  });
});

describe('a colleague’s link', () => {
  it('makes one account with its role, once', async () => {
    const { POST } = (await import('@/app/api/accounts/route')) as { POST: Handler };
    const { token, hash } = newToken();
    await insertColleagueLink(db.pool(), world.show, await demoAccount(db.pool()), 'producer', hash, 7);
    const make = (email: string) =>
      POST(request('POST', { ...AWAY }, JSON.stringify({ link: token, name: 'Wen', email, password: 'long enough words' })), { params: Promise.resolve({}) });
    expect((await make('wen@ferry.example')).status).toBe(201);
    expect(await (await make('wen2@ferry.example')).json()).toMatchObject({ code: 'link-used' });
    const first = await POST(request('POST', AWAY, JSON.stringify({ setupCode: '', name: 'X', email: 'x@ferry.example', password: 'long enough words' })), { params: Promise.resolve({}) });
    expect(await first.json()).toMatchObject({ code: 'not-first' });
  });

  it('never lowers a role, ends with the membership of whoever made it, and can be taken back', async () => {
    const { POST } = (await import('@/app/api/memberships/route')) as { POST: Handler };
    const pool = db.pool();
    const newcomer = await insertAccount(pool, { email: 'bo@ferry.example', name: 'Bo', passwordHash: 'x' });
    const cookie = `${SIGN_IN_COOKIE}=${await beginSignIn(pool, newcomer)}`;
    const link = async (maker: string, role: ShowRole) => {
      const { token, hash } = newToken();
      await insertColleagueLink(pool, world.show, maker, role, hash, 7);
      return token;
    };
    const use = async (token: string, headers: Record<string, string> = { cookie }) => (await POST(request('POST', { ...AWAY, ...headers }, JSON.stringify({ link: token })), { params: Promise.resolve({}) })).status;
    const owner = await demoAccount(pool);
    expect(await use(await link(owner, 'owner'))).toBe(200);
    expect(await use(await link(owner, 'producer'))).toBe(200);
    expect(await roleIn(pool, world.show, newcomer)).toBe('owner');
    const left = [await link(newcomer, 'host'), await link(newcomer, 'host')];
    const [{ id }] = await listColleagueLinks(pool, world.show);
    await revokeColleagueLink(pool, world.show, id);
    await inTransaction(pool, (client) => removeMember(client, world.show, newcomer));
    const elsewhere = someone.elsewhere;
    for (const token of left) expect(await use(token, elsewhere)).toBe(403);
  });

  it('leaves a show an owner, also when two take each other off at once', async () => {
    const pool = db.pool();
    const show = await insertShow(pool, { id: await demoAccount(pool), name: 'Maren', email: 'm@ferry.example' }, 'Two owners');
    const second = await insertAccount(pool, { email: 'two@ferry.example', name: 'Two', passwordHash: 'x' });
    await setMember(pool, show, second, 'owner');
    const off = (account: string) => inTransaction(pool, (client) => removeMember(client, show, account));
    const results = await Promise.allSettled([off(second), off(await demoAccount(pool))]);
    expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    expect((await listMembers(pool, show)).filter(({ role }) => role === 'owner')).toHaveLength(1);
  });
});
