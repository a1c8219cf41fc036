// `npm start`: everything from a fresh clone to a running desk. `--dev` serves with live reload.
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { ensureInstalled, ensureModules } from './debian.mjs';
import { takeLock } from './lock.mjs';
import { freePort, isFree } from './ports.mjs';
import { findServer, startPostgres } from './postgres.mjs';
import { startAsOwnUser } from './own-user.mjs';
import { installService } from './service.mjs';
import { reachOf } from './reach.mjs';
import { startRelay } from './relay.mjs';
import { answers, startServer } from './serve.mjs';
import { radioEnvironment, startRadio } from './radio.mjs';
import { startCertificate } from './certificate.mjs';
import { startWorkers } from './workers.mjs';
import { runMain, Trouble } from './trouble.mjs';

const DEFAULT_PORT = 4870;
/** A first start on a slow machine compiles and warms up. */
const START_WITHIN_MS = 120_000;
const development = process.argv.includes('--dev');
/** Without the demo there is no show and nobody is signed in by itself; whoever can be reached from outside has none. */
const demo = !process.argv.includes('--no-demo') && !process.argv.includes('--public');

/** Two starts on one data folder would share a database server that the first to stop takes away. */
async function lockData(says) {
  const lock = await takeLock('data', says);
  if (lock.heldBy !== null) throw new Trouble(`Brisk Lantern already runs here: ${lock.heldBy}. Stop it there with Ctrl-C first.`);
  return lock;
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
  return startPostgres('postgres', { watched: true });
}

/** Brings the database up to date. Says whether anybody has an account. */
function prepareDatabase(url) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', 'src/server/prepare.ts'], { env: { ...process.env, DATABASE_URL: url, DEMO: demo ? '1' : '0' }, encoding: 'utf8' });
  if (done.status === 0) return JSON.parse(done.stdout.trim().split('\n').at(-1)).accounts;
  const reason = /(?:^|\n)(?:\w*Error|error): (.*)/.exec(done.stderr)?.[1] ?? done.stderr.trim().split('\n').at(-1);
  throw new Trouble(`The database could not be prepared: ${reason}`);
}

/** How others reach it. */
function reachInWords({ mode, address, server, acme }) {
  if (mode === 'here') return ['Only this machine reaches it. Others do with: npm start -- --public desk.example, or in the house: npm start -- --lan'];
  if (mode === 'proxy') return [`Others reach it at ${address}, through the proxy at ${server.TRUSTED_PROXIES}.`];
  if (mode === 'lan') return [`Others in the house reach it at ${address}. What their browsers must trust for that, and what it means: http://${new URL(address).hostname}:${server.PLAIN_PORT}`];
  return [`Others reach it at ${address}${acme ? ', as soon as its certificate is there' : `, with the certificate in ${server.TLS_CERT}`}.`];
}

/** Everything only root can install is installed now; whoever it runs as cannot. */
async function installAll(mode) {
  ensureModules();
  if (!process.env.DATABASE_URL) await findServer();
  if (mode === 'public' && !process.env.TURN_URLS) await ensureInstalled({ turnserver: 'coturn' });
  const { buildWhenNeeded } = await import('./build.mjs');
  await buildWhenNeeded();
}

async function asService() {
  const words = process.argv.slice(2).filter((word) => word !== '--install-service');
  await installAll(reachOf(words, 'data/tls').mode);
  installService(words);
}

/** What others reach does not run as root. */
async function asOwnUser({ mode, server, acme }) {
  await installAll(mode);
  process.exitCode = await startAsOwnUser(process.argv.slice(2), acme || mode !== 'public' ? [] : [server.TLS_CERT, server.TLS_KEY]);
}

await runMain(async () => {
  if (process.argv.includes('--install-service')) return asService();
  const began = performance.now();
  if (process.argv.includes('--public') && process.getuid?.() === 0 && !development) return asOwnUser(reachOf(process.argv.slice(2), 'data/tls'));
  mkdirSync('data', { recursive: true });
  let says = `process ${process.pid} is starting`;
  const lock = await lockData(() => says);
  const reach = reachOf(process.argv.slice(2), 'data/tls');
  const port = await choosePort();
  ensureModules();
  const { buildWhenNeeded, buildWorklet } = await import('./build.mjs');
  const postgres = await startDatabase();
  let server = null;
  let workers = null;
  let radio = null;
  let certificate = null;
  let relay = null;
  let stopping = false;
  const stop = async (code) => {
    if (stopping) return;
    stopping = true;
    await Promise.all([server?.stop(), workers?.stop(), radio?.stop(), certificate?.stop(), relay?.stop()]);
    await postgres.stop();
    lock.release();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));
  try {
    const accounts = prepareDatabase(postgres.url);
    const setupCode = accounts || demo ? '' : randomBytes(9).toString('base64url');
    if (development) await buildWorklet({ watching: true });
    else await buildWhenNeeded();
    const address = `http://127.0.0.1:${port}`;
    const onAir = await radioEnvironment('data/secret-key');
    // One of one's own by settings comes first.
    if (reach.mode === 'public' && !process.env.TURN_URLS) relay = await startRelay('data/relay', { name: new URL(reach.address).hostname, certificate: reach.server.TLS_CERT === reach.server.TLS_KEY ? reach.server.TLS_CERT : null });
    server = startServer(port, { DATABASE_URL: postgres.url, DEMO: demo ? '1' : '0', SETUP_CODE: setupCode, ...onAir, ...reach.server, ...relay?.environment }, { development });
    workers = startWorkers(postgres.url);
    radio = startRadio(postgres.url, onAir);
    says = `at ${address} (process ${process.pid})`;
    if (!(await answers(address, START_WITHIN_MS))) throw new Trouble('The server did not start; its message is above.');
    // The authority asks the plain port, which is open now.
    if (reach.acme) certificate = startCertificate(reach.acme);
    console.log(`\nBrisk Lantern is ready after ${((performance.now() - began) / 1000).toFixed(1)} s at ${address}`);
    if (setupCode && !demo) console.log(`Nobody has an account yet. Open it and make the first one with the setup code ${setupCode}`);
    if (demo && reach.mode !== 'proxy') console.log('This is the demo: whoever sits at this machine is signed in as its host, Maren Sollis. Without it: npm start -- --no-demo');
    for (const line of reachInWords(reach)) console.log(line);
    console.log('Stop it with Ctrl-C.');
  } catch (error) {
    if (!stopping) {
      console.error(error instanceof Trouble ? `\n${error.message}` : error);
      await stop(1);
    }
  }
});
