// The production build: the audio worklet as one file of its own, then the pages. Skipped when
// nothing that goes into it has changed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Trouble, runMain } from './trouble.mjs';

const STAMP = '.next/brisk-lantern-build';
const INPUTS = ['src', 'public', 'next.config.ts', 'package-lock.json', 'tsconfig.json'];

/** The library that suppresses noise asks for these where it runs in Node. */
const withoutNodesOwn = {
  name: 'without-nodes-own',
  setup(build) {
    build.onResolve({ filter: /^(module|url)$/ }, () => ({ path: 'nothing', namespace: 'nothing' }));
    build.onLoad({ filter: /.*/, namespace: 'nothing' }, () => ({ contents: '' }));
  },
};

/** Worklets are loaded by the audio thread, which the page bundler does not compile for. @param watching builds them again whenever what goes into them changes, too */
export async function buildWorklet({ watching = false } = {}) {
  const { context } = await import('esbuild');
  mkdirSync('src/live/generated', { recursive: true });
  const worklets = await context({
    entryPoints: { 'mix.worklet': 'src/live/worklet/mix.worklet.ts', 'capture.worklet': 'src/live/worklet/capture.worklet.ts', 'home.worklet': 'src/live/worklet/home.worklet.ts', 'outlet.worklet': 'src/live/worklet/outlet.worklet.ts', 'rack.worklet': 'src/live/worklet/rack.worklet.ts', 'ring.worklet': 'src/live/worklet/ring.worklet.ts', 'import.worker': 'src/live/sounds/import.worker.ts', 'noise-time.worker': 'src/live/strip/noise-time.worker.ts' },
    // The FLAC library looks for Node's modules only where it runs in Node.
    external: ['fs', 'path', 'crypto'],
    plugins: [withoutNodesOwn],
    outdir: 'src/live/generated',
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    logLevel: 'error',
  });
  await worklets.rebuild();
  if (watching) await worklets.watch();
  else await worklets.dispose();
  copyFileSync('node_modules/@echogarden/rnnoise-wasm/rnnoise.wasm', 'src/live/generated/rnnoise.wasm');
}

export async function buildWhenNeeded() {
  const wanted = hashOfInputs();
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) return;
  console.log('Building …');
  await buildWorklet();
  const done = spawnSync('node_modules/.bin/next', ['build'], { encoding: 'utf8', env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
  if (done.status !== 0) throw new Trouble(`The build failed:\n${done.stdout}\n${done.stderr}`);
  writeFileSync(STAMP, wanted);
}

function hashOfInputs() {
  const hash = createHash('sha256');
  const add = (path) => {
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) if (name !== 'generated') add(join(path, name));
    } else if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(path));
  };
  INPUTS.forEach(add);
  return hash.digest('hex');
}

if (process.argv[1] && resolve(process.argv[1]) === fileURLToPath(import.meta.url)) {
  await runMain(buildWhenNeeded);
}
