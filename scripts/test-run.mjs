import { spawnSync } from 'node:child_process';

/** Where tests leave what they found. */
export const RESULTS = 'test-results';

/**
 * Runs a program of a package to its end, with its words on the screen.
 * @returns {boolean} whether it said that all is well
 */
export function run(title, program, words, environment = {}) {
  console.log(`\n── ${title}`);
  const began = performance.now();
  const done = spawnSync(`node_modules/.bin/${program}`, words, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...environment } });
  console.log(`   ${((performance.now() - began) / 1000).toFixed(0)} s`);
  return done.status === 0;
}
