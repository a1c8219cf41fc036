import { afterAll, describe, expect, it } from 'vitest';
import { POST } from '@/app/api/sign-in/route';
import { noteWay, trustedProxies } from '../../../scripts/forwarded.mjs';
import { insertAccount } from '../access/accounts';
import { hashPassword } from '../access/passwords';
import { database } from '../database';
import { testDatabase } from '../testing/test-database';

const db = testDatabase();
afterAll(() => database().end());

describe('signing in from somewhere', () => {
  it('is closed to whoever guesses, and stays open to the browser the account’s owner uses', async () => {
    const pool = db.pool();
    await insertAccount(pool, { email: 'guessed@ferry.example', name: 'Guessed', passwordHash: await hashPassword('the right words') });
    const from = async (peer: string, password: string, cookie?: string) => {
      const headers: Record<string, string> = { host: 'desk.example', origin: 'https://desk.example', ...(cookie && { cookie }) };
      noteWay(headers, peer, trustedProxies(''));
      const request = new Request('http://desk.example/api/sign-in', { method: 'POST', headers, body: JSON.stringify({ email: 'Guessed@ferry.example', password }) });
      return POST(request, { params: Promise.resolve({}) });
    };
    const first = await from('198.51.100.7', 'the right words');
    expect(first.status).toBe(200);
    const known = first.headers.getSetCookie().find((cookie) => cookie.startsWith('brisk-lantern-browser='))!;
    expect(known).toMatch(/HttpOnly/);
    expect(known).toMatch(/SameSite=Strict/);
    const guesses = [];
    for (let k = 0; k < 11; k++) guesses.push((await from(`203.0.113.${k}`, 'wrong')).status);
    // Another address of the same network is the same guesser.
    expect(guesses).toEqual([...Array<number>(10).fill(401), 429]);
    expect((await from('203.0.113.99', 'the right words')).status).toBe(429);
    expect((await from('198.51.100.8', 'the right words')).status).toBe(200);
    // Guesses from everywhere close the account to strangers; not to a browser that is known.
    await pool.query("update attempt_count set attempts = 100 where bucket = 'sign-in/strangers/guessed@ferry.example'");
    expect((await from('192.0.2.1', 'the right words')).status).toBe(429);
    expect((await from('192.0.2.1', 'the right words', known.split(';')[0])).status).toBe(200);
    expect((await from('192.0.2.1', 'the right words', 'brisk-lantern-browser=' + 'a'.repeat(43))).status).toBe(429);
  });
});
