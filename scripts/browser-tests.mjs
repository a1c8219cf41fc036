// The browser tests: those that only look at screens two at a time, each with a product of its own; then those that
// listen to a call, one after another.
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { startProduct } from './product.mjs';
import { RESULTS, run } from './test-run.mjs';

/** So many are no accident: the run ends with them, for the rest would only take an hour to say the same. */
const MOST_FAILURES = 15;
/** Calls run in real time: where others take so much of the processors, % of their time, a test that fails says nothing about the product. */
const MOST_TAKEN = 25;

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

/** What a run of Playwright found, by its report. */
function played(title, name, words, products) {
  const report = `${RESULTS}/${name}.json`;
  const ok = run(title, 'playwright', ['test', ...words, '--pass-with-no-tests', `--max-failures=${MOST_FAILURES}`, '--reporter=list,json'], { PRODUCTS: JSON.stringify(products), PLAYWRIGHT_JSON_OUTPUT_FILE: report });
  const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
  return { passed: stats.expected, failed: stats.unexpected + (ok || stats.unexpected > 0 ? 0 : 1), skipped: stats.skipped, which: suites.flatMap(failedIn) };
}

/**
 * @param {string} databaseUrl a PostgreSQL server
 * @param {string[]} specs files of tests, by parts of their names; none for all
 * @returns {Promise<{ passed: number, failed: number, skipped: number, triedAgain: string[], notJudged: { name: string, taken: number }[] }>}
 */
export async function runBrowserTests(databaseUrl, specs) {
  const found = { passed: 0, failed: 0, skipped: 0, triedAgain: [], notJudged: [] };
  const stage = (title, name, words, products) => {
    const first = played(title, name, words, products);
    found.skipped += first.skipped;
    found.passed += first.passed;
    // Calls run in real time on a machine that others use as well: what failed gets one more try, alone, when the others are over.
    if (!process.env.CI || first.which.length === 0 || first.which.length >= MOST_FAILURES) found.failed += first.failed;
    else {
      const again = played(`${title} that failed, once more`, `${name}-again`, [...words, '--last-failed', '--workers=1'], products);
      found.passed += again.passed;
      found.triedAgain.push(...first.which.map((one) => one.name));
      // Nothing is forgiven without a second try.
      const forgiven = again.which.filter(({ taken }) => taken > MOST_TAKEN);
      found.notJudged.push(...forgiven);
      found.failed += again.failed - forgiven.length;
    }
  };
  const start = (name) => startProduct(databaseUrl, { name, keyFile: `${RESULTS}/secret-key-${name}` });
  const told = ({ address, url, radio }) => ({ BASE_URL: address, BROWSER_DATABASE_URL: url, PRACTICE_RADIO: radio });
  const first = await start('browser');
  try {
    const second = availableParallelism() > 1 ? await start('browser_beside') : null;
    try {
      const products = [first, ...(second ? [second] : [])].map(told);
      stage('browser tests of screens', 'screens', [...specs, '--project=screens', `--workers=${products.length}`], products);
    } finally {
      await second?.stop();
    }
    if (found.failed < MOST_FAILURES) stage('browser tests of calls', 'calls', [...specs, '--project=calls', '--project=devices', '--project=microphone'], [told(first)]);
  } finally {
    await first.stop();
  }
  return found;
}
