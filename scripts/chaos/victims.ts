import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, openSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { chromium, type BrowserContext, type Page } from '@playwright/test';
import { connect } from '../../src/server/database';
import { freePort } from '../ports.mjs';
import { startPostgres } from '../postgres.mjs';
import { radioEnvironment, startRadio } from '../radio.mjs';

const CLUSTER = 'chaos-postgres';

/** Everything that can be killed, and brought back. */
export interface Victims {
  /** A page in a browser that keeps its profile. */
  openPage(): Promise<Page>;
  /** Kills the page, or the whole browser; when that was, ms since 1970. */
  killDesk(what: 'page' | 'browser', page: Page): Promise<number>;
  kill(what: 'server' | 'postgres'): Promise<void>;
  revive(what: 'server' | 'postgres'): Promise<void>;
  stop(): Promise<void>;
}

export async function startVictims(): Promise<Victims> {
  const profile = mkdtempSync(join(tmpdir(), 'chaos-'));
  const databasePort = await freePort();
  const webPort = await freePort();
  const address = `http://127.0.0.1:${webPort}`;
  let postgres = await startPostgres(CLUSTER, { port: databasePort });
  const database = await emptyDatabase(postgres.url);
  process.env.BROWSER_DATABASE_URL = database;
  const onAir = await radioEnvironment(resolve('data', 'chaos.key'));
  const environment = { ...process.env, ...onAir, NODE_ENV: 'production' as const, DATABASE_URL: database, DEMO: '1' };
  await finished(spawn(process.execPath, ['--import', 'tsx', 'src/server/prepare.ts'], { env: environment, stdio: ['ignore', 'ignore', 'inherit'] }));
  const log = openSync(join('data', 'chaos-server.log'), 'w');
  let server = await startServer();
  // Nobody kills it, but its database goes and comes.
  const radio = startRadio(database, onAir);
  let context: BrowserContext | null = null;

  async function startServer(): Promise<ChildProcess> {
    const child = spawn(process.execPath, ['scripts/http-server.mjs', 'start', String(webPort)], { env: environment, stdio: ['ignore', log, log] });
    for (let tries = 0; tries < 300; tries++) {
      if (await fetch(`${address}/api/health`).then((response) => response.ok, () => false)) return child;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error('The server did not start.');
  }

  /** Its children need a moment to see that it is gone; until then it does not start. */
  async function restartPostgres(): ReturnType<typeof startPostgres> {
    for (let tries = 0; ; tries++) {
      try {
        const started = await startPostgres(CLUSTER, { port: databasePort });
        // What is left of the one that was killed can look like a server that runs.
        const pool = connect(started.url);
        await pool.query('select 1').finally(() => pool.end());
        return started;
      } catch (error) {
        if (tries === 20) throw error;
        await new Promise((resolve) => setTimeout(resolve, 500));
      }
    }
  }

  return {
    async openPage() {
      if (!context) {
        for (const lock of ['SingletonLock', 'SingletonCookie', 'SingletonSocket']) rmSync(join(profile, lock), { force: true });
        context = await chromium.launchPersistentContext(profile, {
          executablePath: '/usr/bin/chromium',
          args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required', '--disable-session-crashed-bubble'],
          baseURL: address,
          viewport: { width: 1280, height: 800 },
        });
        await context.addInitScript('globalThis.__name = (made) => made');
      }
      return context.newPage();
    },
    async killDesk(what, page) {
      if (what === 'browser') {
        const at = Date.now();
        killAll((words) => words.some((word) => word.includes(profile)));
        await context?.close().catch(() => undefined);
        context = null;
        return at;
      }
      const devtools = await page.context().newCDPSession(page);
      const crashed = page.waitForEvent('crash');
      const at = Date.now();
      void devtools.send('Page.crash').catch(() => undefined);
      await crashed;
      return at;
    },
    async kill(what) {
      if (what === 'server') {
        const ended = finished(server).catch(() => undefined);
        server.kill('SIGKILL');
        await ended;
      } else killAll((words) => words[0].endsWith('/postgres') && words.includes(String(databasePort)));
    },
    async revive(what) {
      if (what === 'server') server = await startServer();
      else postgres = await restartPostgres();
    },
    async stop() {
      await context?.close().catch(() => undefined);
      await radio.stop();
      server.kill('SIGKILL');
      postgres.stop();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

async function emptyDatabase(server: string): Promise<string> {
  const name = `chaos_${randomBytes(6).toString('hex')}`;
  const pool = connect(server);
  await pool.query(`create database ${name}`);
  await pool.end();
  const url = new URL(server);
  url.pathname = `/${name}`;
  return url.href;
}

/** Ends every process whose command line fits, at once. */
function killAll(fits: (words: string[]) => boolean): void {
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const words = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
      if (Number(pid) !== process.pid && fits(words)) process.kill(Number(pid), 'SIGKILL');
    } catch {
      // It ended by itself meanwhile.
    }
  }
}

function finished(child: ChildProcess): Promise<void> {
  return new Promise((resolve, reject) => {
    child.once('exit', (code) => (code === 0 ? resolve() : reject(new Error(`${child.spawnargs.join(' ')} ended with ${code}.`))));
  });
}
