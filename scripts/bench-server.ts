// A database, and a server of the built product on it, for measuring: both are gone afterwards.
import { execFileSync, spawn } from 'node:child_process';
import { connect } from '../src/server/database';
import { freePort } from './ports.mjs';
import { startPostgres } from './postgres.mjs';

/** Hands out the address of a fresh database with the demo in it. */
export async function withBenchDatabase<Result>(measure: (database: string) => Promise<Result>): Promise<Result> {
  const cluster = await startPostgres('bench-postgres');
  const name = `bench_${Date.now()}`;
  const admin = connect(cluster.url);
  await admin.query(`create database ${name}`);
  const database = Object.assign(new URL(cluster.url), { pathname: `/${name}` }).href;
  try {
    execFileSync(process.execPath, ['--import', 'tsx', 'src/server/prepare.ts'], { env: { ...process.env, DATABASE_URL: database, DEMO: '1' }, stdio: ['ignore', 'ignore', 'inherit'] });
    return await measure(database);
  } finally {
    await admin.query(`drop database ${name} with (force)`);
    await admin.end();
    cluster.stop();
  }
}

/** Serves the built product on a database, and hands out its address. */
export async function withServer<Result>(database: string, measure: (address: string) => Promise<Result>): Promise<Result> {
  const port = await freePort();
  const server = spawn(process.execPath, ['scripts/http-server.mjs', 'start', String(port)], { env: { ...process.env, NODE_ENV: 'production', DATABASE_URL: database, DEMO: '1' }, stdio: 'ignore' });
  const address = `http://127.0.0.1:${port}`;
  try {
    while (!(await fetch(`${address}/api/health`).then((response) => response.ok, () => false))) await new Promise((resolve) => setTimeout(resolve, 100));
    return await measure(address);
  } finally {
    server.kill('SIGTERM');
  }
}
