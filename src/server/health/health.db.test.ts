import { afterAll, describe, expect, it } from 'vitest';
import { GET as metricsRoute } from '@/app/api/metrics/route';
import { database } from '../database';
import { testDatabase } from '../testing/test-database';
import { sayAlive, whoLives } from './beats';
import { metrics } from './metrics';
import { readiness } from './readiness';

const db = testDatabase();
afterAll(() => database().end());

describe('whether it is well', () => {
  it('says what is missing, and that it is ready when nothing is', async () => {
    expect(await readiness(db.pool())).toMatchObject({ ready: false, database: 'ok', workers: 'none', sender: 'none' });
    const ends = [sayAlive(db.pool(), 'one', 'worker'), sayAlive(db.pool(), 'two', 'sender')];
    await expect.poll(() => whoLives(db.pool())).toEqual({ worker: 1, sender: 1 });
    expect(await readiness(db.pool(), 0)).toMatchObject({ ready: true, workers: 'ok', sender: 'ok' });
    expect(await readiness(db.pool(), Infinity)).toMatchObject({ ready: false, disk: expect.stringMatching(/nearly full|not known/) });
    for (const end of ends) end();
    await db.pool().query(`update process_beat set seen_at = now() - interval '1 minute' where kind = 'worker'`);
    expect(await readiness(db.pool(), 0)).toMatchObject({ ready: false, workers: 'none', sender: 'ok' });
    const away = { query: () => Promise.reject(new Error('Connection terminated')) };
    expect(await readiness(away)).toMatchObject({ ready: false, database: 'away' });
  });

  it('gives figures that any reader of the open format takes, to this machine or with the token', async () => {
    const text = await metrics(db.pool());
    for (const line of text.trim().split('\n')) expect(line).toMatch(/^(# (HELP|TYPE) brisk_lantern_\w+ .+|brisk_lantern_\w+(\{\w+="[^"]*"\})? -?\d+(\.\d+)?(e[+-]?\d+)?)$/);
    expect(text).toMatch(/^brisk_lantern_calls_running 0$/m);
    expect(text).toMatch(/^brisk_lantern_processes\{kind="sender"\} 1$/m);
    const asked = async (headers: Record<string, string>) => (await metricsRoute(new Request('http://x/api/metrics', { headers }), { params: Promise.resolve({}) })).status;
    expect(await asked({ 'x-lantern-peer': '127.0.0.1', 'x-lantern-way': 'direct' })).toBe(200);
    expect(await asked({ 'x-lantern-peer': '127.0.0.1', 'x-lantern-way': 'forwarded' })).toBe(401);
    expect(await asked({ 'x-lantern-peer': '203.0.113.4', 'x-lantern-way': 'direct', authorization: 'Bearer ' })).toBe(401);
    process.env.METRICS_TOKEN = 'a token of some length';
    expect(await asked({ 'x-lantern-peer': '203.0.113.4', 'x-lantern-way': 'direct', authorization: 'Bearer a token of some length' })).toBe(200);
    expect(await asked({ 'x-lantern-peer': '203.0.113.4', 'x-lantern-way': 'direct', authorization: 'Bearer a token of some lengtH' })).toBe(401);
    delete process.env.METRICS_TOKEN;
  });
});
