// `npm start`: everything from a fresh clone to a running desk. `--dev` serves with live reload.
import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { ensureModules } from './debian.mjs';
import { freePort, isFree } from './ports.mjs';
import { startPostgres } from './postgres.mjs';
import { startWorkers } from './workers.mjs';
import { runMain, Trouble } from './trouble.mjs';

const DEFAULT_PORT = 4870;
const RUN_FILE = 'data/running.json';
const development = process.argv.includes('--dev');
/** Without the demo there is no show and nobody is signed in by itself. */
const demo = !process.argv.includes('--no-demo');

/** Two starts on one data folder would share a database server that the first to stop takes away. */
function refuseSecondStart() {
  if (!existsSync(RUN_FILE)) return;
  const { pid, address } = JSON.parse(readFileSync(RUN_FILE, 'utf8'));
  try {
    process.kill(pid, 0);
  } catch {
    rmSync(RUN_FILE); // left by a start that was killed
    return;
  }
  throw new Trouble(`Brisk Lantern already runs at ${address}. Stop it there with Ctrl-C first.`);
}

async function choosePort() {
  if (process.env.PORT === undefined) return (await isFree(DEFAULT_PORT)) ? DEFAULT_PORT : freePort();
  const port = Number(process.env.PORT);
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Trouble(`PORT must be a number from 1 to 65535, received "${process.env.PORT}".`);
  if (!(await isFree(port))) throw new Trouble(`Port ${port} is taken by another program. Choose another, such as PORT=${port + 1} npm start.`);
  return port;
}

async function startDatabase() {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, stop: () => undefined };
  return startPostgres('postgres');
}

/** Brings the database up to date. Says whether anybody has an account. */
function prepareDatabase(url) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', 'src/server/prepare.ts'], { env: { ...process.env, DATABASE_URL: url, DEMO: demo ? '1' : '0' }, encoding: 'utf8' });
  if (done.status === 0) return JSON.parse(done.stdout.trim().split('\n').at(-1)).accounts;
  const reason = /(?:^|\n)(?:\w*Error|error): (.*)/.exec(done.stderr)?.[1] ?? done.stderr.trim().split('\n').at(-1);
  throw new Trouble(`The database could not be prepared: ${reason}`);
}

async function answers(address, server) {
  for (;;) {
    if (server.exitCode !== null) return false;
    const ok = await fetch(`${address}/api/health`).then((response) => response.ok, () => false);
    if (ok) return true;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

await runMain(async () => {
  const began = performance.now();
  mkdirSync('data', { recursive: true });
  refuseSecondStart();
  const port = await choosePort();
  ensureModules();
  const { buildWhenNeeded, buildWorklet } = await import('./build.mjs');
  const postgres = await startDatabase();
  let server = null;
  let workers = null;
  let stopping = false;
  const stop = (code) => {
    if (stopping) return;
    stopping = true;
    const end = async () => {
      await workers?.stop();
      postgres.stop();
      rmSync(RUN_FILE, { force: true });
      process.exit(code);
    };
    if (server === null || server.exitCode !== null) return void end();
    server.once('exit', () => void end());
    server.kill('SIGTERM');
    // Open event streams may hold a server back; recordings are already in the database.
    setTimeout(() => server.kill('SIGKILL'), 4000).unref();
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0));
  try {
    const accounts = prepareDatabase(postgres.url);
    const setupCode = accounts ? '' : randomBytes(9).toString('base64url');
    if (development) await buildWorklet();
    else await buildWhenNeeded();
    const address = `http://127.0.0.1:${port}`;
    server = spawn(process.execPath, ['node_modules/next/dist/bin/next', development ? 'dev' : 'start', '-H', '127.0.0.1', '-p', String(port)], {
      env: { ...process.env, DATABASE_URL: postgres.url, DEMO: demo ? '1' : '0', SETUP_CODE: setupCode, NEXT_TELEMETRY_DISABLED: '1' },
      stdio: ['ignore', development ? 'inherit' : 'ignore', 'inherit'],
      // Ctrl-C reaches the whole group; the server is stopped by us, after which the database is.
      detached: true,
    });
    server.on('exit', () => stop(1));
    workers = startWorkers(postgres.url);
    writeFileSync(RUN_FILE, JSON.stringify({ pid: process.pid, address }));
    if (!(await answers(address, server))) throw new Trouble('The server did not start; its message is above.');
    console.log(`\nBrisk Lantern is ready after ${((performance.now() - began) / 1000).toFixed(1)} s at ${address}`);
    if (setupCode) console.log(`Nobody has an account yet. Open it and make the first one with the setup code ${setupCode}`);
    if (demo) console.log('This is the demo: whoever sits at this machine is signed in as its host, Maren Sollis. Without it: npm start -- --no-demo');
    console.log('Stop it with Ctrl-C.');
  } catch (error) {
    if (!stopping) {
      console.error(error instanceof Trouble ? `\n${error.message}` : error);
      stop(1);
    }
  }
});
