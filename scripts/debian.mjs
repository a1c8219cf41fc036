// What the project needs from Debian's packages, and node modules from the lock file.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { Trouble } from './trouble.mjs';

/** Installs Debian packages when we are root, otherwise says the line to type. */
export function aptInstall(packages, what) {
  const line = `apt-get install -y ${packages.join(' ')}`;
  if (process.getuid?.() !== 0 || spawnSync('apt-get', ['--version']).status !== 0) {
    throw new Trouble(`${what} is missing. Install it with:\n  sudo ${line}`);
  }
  console.log(`Installing ${what} …`);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () => spawnSync('apt-get', ['install', '-y', '--no-install-recommends', ...packages], { env: environment, encoding: 'utf8' });
  let done = install();
  if (done.status !== 0) {
    // A new machine has no package lists, or old ones.
    spawnSync('apt-get', ['update'], { env: environment });
    done = install();
  }
  if (done.status !== 0) throw new Trouble(`${what} could not be installed: ${done.stderr.trim().split('\n').at(-1)}\nTry it by hand:\n  ${line}`);
}

/** Debian's packages that provide programs, installed where a program is missing. */
export function ensurePrograms(programs) {
  for (const [program, debianPackage] of Object.entries(programs)) {
    if (spawnSync('sh', ['-c', `command -v ${program}`]).status !== 0) aptInstall([debianPackage], debianPackage);
  }
}

/** Debian's packages that bring files the tests use. */
export function ensureFiles(files) {
  for (const [file, debianPackage] of Object.entries(files)) if (!existsSync(file)) aptInstall([debianPackage], debianPackage);
}

const STAMP = 'node_modules/.brisk-lantern-lock';

/** Node modules exactly as the lock file says; quick when they already are. */
export function ensureModules() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 15)) {
    throw new Trouble(`Node.js 20.15 or newer is needed; this is ${process.versions.node}.`);
  }
  const wanted = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) return;
  console.log('Installing node modules …');
  const done = spawnSync('npm', ['ci', '--include=dev', '--no-audit', '--no-fund'], { encoding: 'utf8', stdio: ['ignore', 'ignore', 'pipe'] });
  if (done.status !== 0) throw new Trouble(`npm ci failed:\n${done.stderr.trim()}`);
  writeFileSync(STAMP, wanted);
}
