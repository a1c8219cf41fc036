import { afterAll, describe, expect, it } from 'vitest';
import { PUT as changePassword } from '@/app/api/account/password/route';
import { DELETE as endOne } from '@/app/api/account/sign-ins/[signIn]/route';
import { POST as reset } from '@/app/api/password-resets/route';
import { database } from '../database';
import { testDatabase } from '../testing/test-database';
import { findPasswordHash, insertAccount } from './accounts';
import { hashPassword, passwordIs } from './passwords';
import { makeReset } from './reset-password';
import { beginSignIn, findSignedIn, listSignIns, SIGN_IN_COOKIE } from './sign-ins';

const db = testDatabase();
afterAll(() => database().end());

const EMAIL = 'wen@ferry.example';
const FIRST = 'kettle and rope';
const own = { host: 'desk.example', origin: 'https://desk.example', 'x-lantern-peer': '203.0.113.9', 'x-lantern-way': 'direct' };
const asked = (method: string, body: object, token = '') => new Request('https://desk.example/api', { method, headers: { ...own, cookie: `${SIGN_IN_COOKIE}=${token}`, 'user-agent': 'Mozilla/5.0 Firefox/140.0' }, body: JSON.stringify(body) });
const params = (values: Record<string, string> = {}) => ({ params: Promise.resolve(values) });
const right = async (password: string) => passwordIs((await findPasswordHash(db.pool(), EMAIL))!.hash, password);
const tokenIn = (response: Response): string => new RegExp(`${SIGN_IN_COOKIE}=([^;]+)`).exec(response.headers.get('set-cookie') ?? '')?.[1] ?? '';

describe('one’s own password', () => {
  it('is changed by whoever knows it, and signs every other browser out', async () => {
    const account = await insertAccount(db.pool(), { email: EMAIL, name: 'Wen', passwordHash: await hashPassword(FIRST) });
    const [here, elsewhere] = [await beginSignIn(db.pool(), account, 'here'), await beginSignIn(db.pool(), account, 'elsewhere')];
    expect((await listSignIns(db.pool(), account, here)).map(({ browser, own: mine }) => [browser, mine]).sort()).toEqual([['elsewhere', false], ['here', true]]);
    const wrong = await changePassword(asked('PUT', { now: 'something else', next: 'a lantern at noon' }, here), params());
    expect([wrong.status, await right(FIRST)]).toEqual([403, true]);
    expect((await changePassword(asked('PUT', { now: FIRST, next: 'short' }, here), params())).status).toBe(400);
    const changed = await changePassword(asked('PUT', { now: FIRST, next: 'a lantern at noon' }, here), params());
    expect([changed.status, await right('a lantern at noon')]).toEqual([200, true]);
    expect(await findSignedIn(db.pool(), elsewhere)).toBeNull();
    expect(await findSignedIn(db.pool(), here)).toBeNull();
    expect(await findSignedIn(db.pool(), tokenIn(changed))).toMatchObject({ id: account });
    const [{ id, browser }] = await listSignIns(db.pool(), account, tokenIn(changed));
    expect(browser).toContain('Firefox');
    // Somebody else's sign-in is not there for others.
    const stranger = await insertAccount(db.pool(), { email: 'other@ferry.example', name: 'Other', passwordHash: 'none' });
    expect((await endOne(asked('DELETE', {}, await beginSignIn(db.pool(), stranger)), params({ signIn: id }))).status).toBe(404);
    expect((await endOne(asked('DELETE', {}, tokenIn(changed)), params({ signIn: id }))).status).toBe(200);
    expect(await findSignedIn(db.pool(), tokenIn(changed))).toBeNull();
  });

  it('is set anew by a link, once, and not after its time', async () => {
    expect(await makeReset(db.pool(), 'nobody@ferry.example')).toBeNull();
    const before = (await makeReset(db.pool(), EMAIL))!;
    const token = (await makeReset(db.pool(), EMAIL.toUpperCase()))!;
    const use = (which: string) => reset(asked('POST', { token: which, password: 'ropes in the fog' }), params());
    expect((await use(before)).status, 'an earlier link').toBe(403);
    const done = await use(token);
    expect([done.status, await right('ropes in the fog')]).toEqual([200, true]);
    expect(await findSignedIn(db.pool(), tokenIn(done))).toMatchObject({ email: EMAIL });
    expect((await use(token)).status).toBe(403);
    const late = (await makeReset(db.pool(), EMAIL))!;
    await db.pool().query("update password_reset set expires_at = now() - interval '1 second'");
    expect((await use(late)).status).toBe(403);
  });
});
