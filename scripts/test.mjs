// `npm test`: everything a fresh machine needs, then every check. Names of stages after it run only
// those: `npm test -- unit browser`; names of tests run only them: `npm test -- browser home.spec`, `npm test -- database tasks.db.test`.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { buildWhenNeeded } from './build.mjs';
import { ensureFiles, ensureModules, ensurePrograms } from './debian.mjs';
import { startPostgres } from './postgres.mjs';
import { startProduct } from './product.mjs';
import { machineTime } from './machine-time.mjs';
import { runMain, Trouble } from './trouble.mjs';

const RESULTS = 'test-results';
/** Programs that open what the product writes, and the browser that drives it. */
const PROGRAMS = { chromium: 'chromium', 'firefox-esr': 'firefox-esr', sox: 'sox', ffmpeg: 'ffmpeg', 'sndfile-info': 'sndfile-programs', unzip: 'unzip', zip: 'zip', openssl: 'openssl', pebble: 'pebble', turnserver: 'coturn', flac: 'flac', opusinfo: 'opus-tools', pulseaudio: 'pulseaudio', pactl: 'pulseaudio-utils' };

/** Recorded voices, to judge by; the product has none. */
const FILES = { '/usr/share/codec2/wav/ve9qrp.wav': 'codec2-examples', '/usr/share/pocketsphinx/test/data/cards/001.wav': 'pocketsphinx-testdata' };

const totals = { passed: 0, failed: 0, skipped: 0, notJudged: 0 };
/** So many are no accident: the run ends with them, for the rest would only take an hour to say the same. */
const MOST_FAILURES = 15;
/** Calls run in real time: where others take so much of the processors, % of their time, a test that fails says nothing about the product. */
const MOST_TAKEN = 25;
/** Browser tests that failed twice on such a machine. */
const notJudged = [];
/** Browser tests that had to be run a second time. */
const triedAgain = [];

/** The tests in a report that failed, each with what other machines took meanwhile, %. */
function failedIn({ title, suites = [], specs = [] }) {
  const own = specs.filter(({ ok }) => !ok).map((spec) => ({ name: `${title} › ${spec.title}`, taken: takenDuring(spec) }));
  return [...own, ...suites.flatMap(failedIn)];
}

/** Of a test that did not say, nothing. */
function takenDuring({ tests }) {
  const said = tests.flatMap(({ annotations = [], results }) => [...annotations, ...results.flatMap((result) => result.annotations ?? [])]);
  return Math.max(0, ...said.filter(({ type }) => type === 'taken by other machines').map(({ description }) => parseInt(description, 10)));
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

function vitest(project, files, environment) {
  const report = `${RESULTS}/${project}.json`;
  const ok = run(`${project} tests`, 'vitest', ['run', '--project', project, ...files, '--reporter=default', '--reporter=json', `--outputFile=${report}`], environment);
  const { numPassedTests, numFailedTests, numPendingTests } = JSON.parse(readFileSync(report, 'utf8'));
  totals.passed += numPassedTests;
  totals.skipped += numPendingTests;
  totals.failed += numFailedTests + (ok || numFailedTests > 0 ? 0 : 1);
}

async function browserTests(databaseUrl, specs) {
  const { address, url, radio, stop } = await startProduct(databaseUrl, { name: 'browser', keyFile: `${RESULTS}/secret-key` });
  try {
    const played = (title, name, words) => {
      const report = `${RESULTS}/${name}.json`;
      const ok = run(title, 'playwright', ['test', ...words, `--max-failures=${MOST_FAILURES}`, '--reporter=list,json'], { BASE_URL: address, BROWSER_DATABASE_URL: url, PRACTICE_RADIO: radio, PLAYWRIGHT_JSON_OUTPUT_FILE: report });
      const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
      totals.passed += stats.expected;
      return { failed: stats.unexpected + (ok || stats.unexpected > 0 ? 0 : 1), skipped: stats.skipped, which: suites.flatMap(failedIn) };
    };
    const first = played('browser tests', 'browser', specs);
    // Calls run in real time on a machine that others use as well: what failed gets one more try, when the others are over.
    const again = process.env.CI && first.which.length > 0 && first.which.length < MOST_FAILURES ? played('browser tests that failed, once more', 'browser-again', ['--last-failed', ...specs]) : null;
    if (again) triedAgain.push(...first.which.map(({ name }) => name));
    const last = again ?? first;
    totals.skipped += first.skipped;
    // Nothing is forgiven without a second try.
    if (again) notJudged.push(...last.which.filter(({ taken }) => taken > MOST_TAKEN));
    totals.notJudged += notJudged.length;
    totals.failed += last.failed - notJudged.length;
  } finally {
    await stop();
  }
}

await runMain(async () => {
  const spent = machineTime();
  const specs = process.argv.slice(2).filter((word) => word.includes('.spec'));
  const files = process.argv.slice(2).filter((word) => word.includes('.test'));
  const asked = process.argv.slice(2).filter((word) => !specs.includes(word) && !files.includes(word));
  const stages = ['lint', 'types', 'unit', 'database', 'build', 'browser', 'speed'];
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
      lint: [['lint', 'eslint', ['.', '--max-warnings', '0']], ['walls', 'depcruise', ['--config', '.dependency-cruiser.cjs', 'src', 'lab', 'e2e']], ['nothing dead', 'knip', []]],
      types: [['types', 'tsc', ['--noEmit']]],
    };
    await checkAll(Object.entries(checks).flatMap(([name, ones]) => (wanted.has(name) ? ones : [])));
    if (wanted.has('unit')) vitest('unit', files);
    if (wanted.has('database') || wanted.has('browser')) postgres = await startPostgres('test-postgres', { durable: false });
    if (wanted.has('database')) vitest('database', files, { TEST_DATABASE_URL: postgres.url });
    if (wanted.has('build') || wanted.has('browser')) await buildWhenNeeded();
    if (wanted.has('browser')) await browserTests(postgres.url, specs);
    // Ratios within one run: how fast the machine is does not count.
    if (wanted.has('speed') && !run('speed beside the usual programs', 'tsx', ['scripts/bench-takes.ts', '4', '4', 'judge'])) totals.failed++;
    else if (wanted.has('speed')) totals.passed++;
  } finally {
    postgres?.stop();
  }
  console.log(`\n── ${spent()}`);
  console.log(triedAgain.length === 0 ? 'No browser test was run a second time.' : `Run a second time:\n${triedAgain.map((name) => `  ${name}`).join('\n')}`);
  if (notJudged.length > 0) console.log(`NOT JUDGED: failed twice while other machines took the processors. Run them on a calm machine:\n${notJudged.map(({ name, taken }) => `  ${name} (${taken} % taken)`).join('\n')}`);
  console.log(`\n${totals.passed} passed, ${totals.failed} failed, ${totals.skipped} skipped, ${totals.notJudged} not judged`);
  if (totals.failed > 0) process.exitCode = 1;
});
