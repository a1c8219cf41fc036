import { spawnSync } from 'node:child_process';
import { freePort } from './ports.mjs';
import { radioEnvironment, startRadio } from './radio.mjs';
import { answers, startServer } from './serve.mjs';
import { Trouble } from './trouble.mjs';
import { startWorkers } from './workers.mjs';

/** Runs a script of the product to its end; what it printed. */
function run(what, words, environment = {}) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', ...words], { encoding: 'utf8', env: { ...process.env, ...environment } });
  if (done.status !== 0) throw new Trouble(`${what}: ${done.stderr}`);
  return done.stdout.trim();
}

/**
 * Starts the whole built product with the demo's data on an empty database of its own: server, worker, sender and practice radio.
 * @param {string} databaseUrl a PostgreSQL server
 * @param {{ name: string, keyFile: string, environment?: Record<string, string> }} options what the database's name begins with; where the key of passwords is kept; settings of all processes
 */
export async function startProduct(databaseUrl, { name, keyFile, environment = {} }) {
  const url = run('A database of its own could not be made', ['scripts/new-database.ts', databaseUrl, name]);
  run('That database could not be prepared', ['src/server/prepare.ts'], { DATABASE_URL: url, DEMO: '1' });
  const port = await freePort();
  const onAir = await radioEnvironment(keyFile);
  const server = startServer(port, { DATABASE_URL: url, DEMO: '1', ...onAir, ...environment });
  const workers = startWorkers(url, 1, environment);
  const radio = startRadio(url, { ...onAir, ...environment });
  const address = `http://127.0.0.1:${port}`;
  if (!(await answers(address, 30_000))) throw new Trouble('The built product did not start.');
  return {
    address,
    url,
    radio: onAir.PRACTICE_RADIO,
    /** The process of each part now, by its name. */
    processes: () => ({ server: server.current().pid, worker: workers.current()[0].pid, ...radio.current() }),
    async stop() {
      await Promise.all([workers.stop(), radio.stop()]);
      await server.stop();
    },
  };
}
