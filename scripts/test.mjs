// `npm test`: everything a fresh machine needs, then every check. Names of stages after it run only
// those: `npm test -- unit browser`; names of browser tests run only them: `npm test -- browser home.spec`.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { buildWhenNeeded } from './build.mjs';
import { ensureFiles, ensureModules, ensurePrograms } from './debian.mjs';
import { freePort } from './ports.mjs';
import { startPostgres } from './postgres.mjs';
import { answers, startServer } from './serve.mjs';
import { startWorkers } from './workers.mjs';
import { machineTime } from './machine-time.mjs';
import { runMain, Trouble } from './trouble.mjs';

const RESULTS = 'test-results';
/** Programs that open what the product writes, and the browser that drives it. */
const PROGRAMS = { chromium: 'chromium', sox: 'sox', ffmpeg: 'ffmpeg', 'sndfile-info': 'sndfile-programs', unzip: 'unzip', flac: 'flac', opusinfo: 'opus-tools', pulseaudio: 'pulseaudio', pactl: 'pulseaudio-utils' };

/** Recorded voices, to judge by; the product has none. */
const FILES = { '/usr/share/codec2/wav/ve9qrp.wav': 'codec2-examples' };

const totals = { passed: 0, failed: 0, skipped: 0 };
/** Browser tests that passed, and not at the first try. */
const triedAgain = [];

/** The names of tests in a report that needed another try, with how many they had. */
function flakyOf({ title, suites = [], specs = [] }) {
  const own = specs.filter(({ tests }) => tests.some(({ status }) => status === 'flaky')).map((spec) => `${title} › ${spec.title} (${Math.max(...spec.tests.map(({ results }) => results.length))} tries)`);
  return [...own, ...suites.flatMap(flakyOf)];
}

function run(title, program, words, environment = {}) {
  console.log(`\n── ${title}`);
  const began = performance.now();
  const done = spawnSync(`node_modules/.bin/${program}`, words, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...environment } });
  console.log(`   ${((performance.now() - began) / 1000).toFixed(0)} s`);
  return done.status === 0;
}

/** Checks without tests of their own, each counting as one, side by side; what each says is shown when it has ended. */
function checkAll(checks) {
  return Promise.all(
    checks.map(async ([title, program, words]) => {
      const began = performance.now();
      const checking = spawn(`node_modules/.bin/${program}`, words, { stdio: ['ignore', 'pipe', 'pipe'] });
      const said = [];
      for (const stream of [checking.stdout, checking.stderr]) stream.on('data', (data) => said.push(data));
      const code = await new Promise((resolve) => checking.on('close', resolve));
      console.log(`\n── ${title}\n${Buffer.concat(said)}   ${((performance.now() - began) / 1000).toFixed(0)} s`);
      if (code === 0) totals.passed++;
      else totals.failed++;
    }),
  );
}

function vitest(project, environment) {
  const report = `${RESULTS}/${project}.json`;
  const ok = run(`${project} tests`, 'vitest', ['run', '--project', project, '--reporter=default', '--reporter=json', `--outputFile=${report}`], environment);
  const { numPassedTests, numFailedTests, numPendingTests } = JSON.parse(readFileSync(report, 'utf8'));
  totals.passed += numPassedTests;
  totals.skipped += numPendingTests;
  totals.failed += numFailedTests + (ok || numFailedTests > 0 ? 0 : 1);
}

/** Starts the built product on a database of its own; ends it with the returned function. */
async function serve(databaseUrl) {
  const port = await freePort();
  const admin = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/new-database.ts', databaseUrl, 'browser'], { encoding: 'utf8' });
  if (admin.status !== 0) throw new Trouble(`The browser tests’ database could not be made: ${admin.stderr}`);
  const url = admin.stdout.trim();
  const prepared = spawnSync(process.execPath, ['--import', 'tsx', 'src/server/prepare.ts'], { encoding: 'utf8', env: { ...process.env, DATABASE_URL: url, DEMO: '1' } });
  if (prepared.status !== 0) throw new Trouble(`The browser tests’ database could not be prepared: ${prepared.stderr}`);
  const server = startServer(port, { DATABASE_URL: url, DEMO: '1' });
  const workers = startWorkers(url);
  const address = `http://127.0.0.1:${port}`;
  if (!(await answers(address, 30_000))) throw new Trouble('The built product did not start for the browser tests.');
  return {
    address,
    url,
    async stop() {
      await workers.stop();
      await server.stop();
    },
  };
}

async function browserTests(databaseUrl, specs) {
  const { address, url, stop } = await serve(databaseUrl);
  try {
    const report = `${RESULTS}/browser.json`;
    const ok = run('browser tests', 'playwright', ['test', ...specs, '--reporter=list,json'], { BASE_URL: address, BROWSER_DATABASE_URL: url, PLAYWRIGHT_JSON_OUTPUT_FILE: report });
    const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
    triedAgain.push(...suites.flatMap(flakyOf));
    totals.passed += stats.expected + stats.flaky;
    totals.skipped += stats.skipped;
    totals.failed += stats.unexpected + (ok || stats.unexpected > 0 ? 0 : 1);
  } finally {
    await stop();
  }
}

await runMain(async () => {
  const spent = machineTime();
  const specs = process.argv.slice(2).filter((word) => word.includes('.spec'));
  const asked = process.argv.slice(2).filter((word) => !specs.includes(word));
  const stages = ['lint', 'types', 'unit', 'database', 'build', 'browser'];
  const unknown = asked.find((name) => !stages.includes(name));
  if (unknown) throw new Trouble(`There is no stage "${unknown}"; there are ${stages.join(', ')}.`);
  const wanted = new Set(asked.length > 0 ? asked : stages);
  ensureModules();
  ensurePrograms(PROGRAMS);
  ensureFiles(FILES);
  rmSync(RESULTS, { recursive: true, force: true });
  mkdirSync(RESULTS, { recursive: true });
  let postgres = null;
  try {
    const checks = {
      lint: [['lint', 'eslint', ['.', '--max-warnings', '0']], ['walls', 'depcruise', ['--config', '.dependency-cruiser.cjs', 'src', 'lab', 'e2e']]],
      types: [['types', 'tsc', ['--noEmit']]],
    };
    await checkAll(Object.entries(checks).flatMap(([name, ones]) => (wanted.has(name) ? ones : [])));
    if (wanted.has('unit')) vitest('unit');
    if (wanted.has('database') || wanted.has('browser')) postgres = await startPostgres('test-postgres', { durable: false });
    if (wanted.has('database')) vitest('database', { TEST_DATABASE_URL: postgres.url });
    if (wanted.has('build') || wanted.has('browser')) await buildWhenNeeded();
    if (wanted.has('browser')) await browserTests(postgres.url, specs);
  } finally {
    postgres?.stop();
  }
  console.log(`\n── ${spent()}`);
  console.log(triedAgain.length === 0 ? 'No browser test needed another try.' : `Needed another try:\n${triedAgain.map((name) => `  ${name}`).join('\n')}`);
  console.log(`\n${totals.passed} passed, ${totals.failed} failed, ${totals.skipped} skipped`);
  if (totals.failed > 0) process.exitCode = 1;
});
