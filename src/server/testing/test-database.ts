import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll } from 'vitest';
import type pg from 'pg';
import { connect } from '../database';
import { seedDemo, seedDemoHost } from '../demo/seed';
import { migrate } from '../migrate';

/** A database of its own with schema and demo, for one test file on the server of TEST_DATABASE_URL. */
export function testDatabase(): { pool: () => pg.Pool; url: () => string } {
  const server = process.env.TEST_DATABASE_URL;
  if (!server) throw new Error('TEST_DATABASE_URL is not set. Run these tests with "npm test database".');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const url = new URL(server);
  url.pathname = `/${name}`;
  let pool: pg.Pool;
  beforeAll(async () => {
    const admin = connect(server);
    await admin.query(`create database ${name}`);
    await admin.end();
    process.env.DATABASE_URL = url.href;
    await migrate(url.href);
    pool = connect(url.href);
    await seedDemo(pool);
    await seedDemoHost(pool);
  });
  afterAll(async () => {
    await pool.end();
  });
  return { pool: () => pool, url: () => url.href };
}

/** The demo's one episode. */
export async function demoEpisode(pool: pg.Pool): Promise<string> {
  const { rows } = await pool.query<{ id: string }>('select id from episode');
  return rows[0].id;
}

/** The account of the demo's host. */
export async function demoAccount(pool: pg.Pool): Promise<string> {
  const { rows } = await pool.query<{ id: string }>('select id from account where password_hash is null');
  return rows[0].id;
}
