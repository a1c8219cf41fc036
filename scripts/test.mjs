// `npm test`: everything a fresh machine needs, and every check. Names of stages after it run only
// those: `npm test -- unit browser`; names of tests run only them: `npm test -- browser home.spec`, `npm test -- database tasks.db.test`.
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { buildWhenNeeded } from './build.mjs';
import { ensureInstalled, ensureModules } from './debian.mjs';
import { startPostgres } from './postgres.mjs';
import { runBrowserTests } from './browser-tests.mjs';
import { RESULTS, run } from './test-run.mjs';
import { machineTime } from './machine-time.mjs';
import { runMain, Trouble } from './trouble.mjs';

/** Programs that open what the product writes, and the browser that drives it. */
const PROGRAMS = { chromium: 'chromium', 'firefox-esr': 'firefox-esr', sox: 'sox', ffmpeg: 'ffmpeg', 'sndfile-info': 'sndfile-programs', unzip: 'unzip', zip: 'zip', openssl: 'openssl', pebble: 'pebble', turnserver: 'coturn', flac: 'flac', opusinfo: 'opus-tools', pulseaudio: 'pulseaudio', pactl: 'pulseaudio-utils' };

/** The database's server, and recorded voices to judge by; the product has none. */
const FILES = { '/usr/lib/postgresql': 'postgresql', '/usr/share/codec2/wav/ve9qrp.wav': 'codec2-examples', '/usr/share/pocketsphinx/test/data/cards/001.wav': 'pocketsphinx-testdata' };

const totals = { passed: 0, failed: 0, skipped: 0, notJudged: 0 };

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
  rmSync(RESULTS, { recursive: true, force: true });
  mkdirSync(RESULTS, { recursive: true });
  let postgres = null;
  let triedAgain = [];
  let notJudged = [];
  try {
    const checks = {
      lint: [['lint', 'eslint', ['.', '--max-warnings', '0']], ['walls', 'depcruise', ['--config', '.dependency-cruiser.cjs', 'src', 'lab', 'e2e']], ['nothing dead', 'knip', []]],
      types: [['types', 'tsc', ['--noEmit']]],
    };
    const installing = ensureInstalled(PROGRAMS, FILES);
    // None of these needs any of it.
    const checkAndBuild = async () => {
      await checkAll(Object.entries(checks).flatMap(([name, ones]) => (wanted.has(name) ? ones : [])));
      if (wanted.has('build') || wanted.has('browser')) await buildWhenNeeded();
    };
    await Promise.all([installing, checkAndBuild()]);
    if (wanted.has('unit')) vitest('unit', files);
    if (wanted.has('database') || wanted.has('browser')) postgres = await startPostgres('test-postgres', { durable: false });
    if (wanted.has('database')) vitest('database', files, { TEST_DATABASE_URL: postgres.url });
    if (wanted.has('browser')) {
      const browser = await runBrowserTests(postgres.url, specs);
      for (const key of ['passed', 'failed', 'skipped']) totals[key] += browser[key];
      ({ triedAgain, notJudged } = browser);
      totals.notJudged = notJudged.length;
    }
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
