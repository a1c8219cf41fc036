// What the project needs from Debian's packages, and node modules from the lock file.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { Trouble } from './trouble.mjs';

/** Installs Debian packages when we are root, otherwise says the line to type. */
export async function aptInstall(packages) {
  const names = packages.join(', ');
  const line = `apt-get install -y ${packages.join(' ')}`;
  if (process.getuid?.() !== 0 || spawnSync('apt-get', ['--version']).status !== 0) {
    throw new Trouble(`Missing here: ${names}. Install ${packages.length === 1 ? 'it' : 'them'} with:\n  sudo ${line}`);
  }
  console.log(`Installing ${names} …`);
  const install = () => aptGet('install', '-y', '--no-install-recommends', ...packages);
  let done = await install();
  if (done.code !== 0) {
    // A new machine has no package lists, or old ones.
    await aptGet('update');
    done = await install();
  }
  if (done.code !== 0) throw new Trouble(`Could not be installed: ${names}. ${done.said.trim().split('\n').at(-1)}\nTry it by hand:\n  ${line}`);
}

async function aptGet(...words) {
  const running = spawn('apt-get', words, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }, stdio: ['ignore', 'ignore', 'pipe'] });
  const said = [];
  running.stderr.on('data', (data) => said.push(data));
  const code = await new Promise((resolve) => running.on('close', resolve));
  return { code, said: Buffer.concat(said).toString() };
}

/**
 * Installs whatever of this is missing, all at once.
 * @param {Record<string, string>} programs Debian's packages by the programs they provide
 * @param {Record<string, string>} files Debian's packages by files or folders they bring
 */
export async function ensureInstalled(programs, files = {}) {
  const missing = [
    ...Object.entries(programs).filter(([program]) => spawnSync('sh', ['-c', `command -v ${program}`]).status !== 0),
    ...Object.entries(files).filter(([file]) => !existsSync(file)),
  ].map(([, debianPackage]) => debianPackage);
  if (missing.length > 0) await aptInstall([...new Set(missing)]);
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
