// A start that others can reach does not run as root: root installs and builds, and then starts it again as the product's own user,
// with the right to ports below 1024 and no other.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { Trouble } from './trouble.mjs';

export const SERVICE_USER = 'brisk-lantern';
const PORTS_ONLY = '-all,+net_bind_service';

const asUser = (...command) => [`--reuid=${SERVICE_USER}`, `--regid=${SERVICE_USER}`, '--init-groups', `--inh-caps=${PORTS_ONLY}`, `--ambient-caps=${PORTS_ONLY}`, `--bounding-set=${PORTS_ONLY}`, '--no-new-privs', ...command];

/** Makes the product's own user where there is none. */
export function makeUser() {
  if (spawnSync('id', [SERVICE_USER]).status !== 0) execFileSync('useradd', ['--system', '--user-group', '--home-dir', process.cwd(), '--shell', '/usr/sbin/nologin', SERVICE_USER]);
}

/**
 * Starts the same command as the product's own user, once everything that only root may is done.
 * @param {string[]} words of the start command
 * @param {string[]} files of one's own that it must be able to read
 * @returns {Promise<number>} how it ended
 * @throws {Trouble} where that user reaches neither this folder nor those files
 */
export async function startAsOwnUser(words, files) {
  makeUser();
  mkdirSync('data', { recursive: true });
  // What it writes: its data, and what the application's framework keeps beside the build.
  execFileSync('chown', ['-R', `${SERVICE_USER}:${SERVICE_USER}`, 'data', '.next']);
  for (const [file, remedy] of [[process.execPath, 'Install Node.js for everybody, such as from Debian’s packages.'], [resolve('package.json'), 'Move the folder to where others than root get, such as /opt/brisk-lantern.'], ...files.map((file) => [resolve(file), `Let it: setfacl -m u:${SERVICE_USER}:r ${file}, and x on the folders above.`])]) {
    if (spawnSync('setpriv', asUser('test', '-r', file)).status !== 0) throw new Trouble(`What others reach does not run as root but as the user ${SERVICE_USER}, who cannot read ${file}. ${remedy}`);
  }
  const child = spawn('setpriv', asUser(process.execPath, 'scripts/start.mjs', ...words), { stdio: 'inherit', env: { ...process.env, HOME: resolve('data'), USER: SERVICE_USER, LOGNAME: SERVICE_USER } });
  // Ctrl-C reaches both; whoever stops this one alone means both as well.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => signal !== 'SIGINT' && child.kill(signal));
  return new Promise((done) => child.once('exit', (code) => done(code ?? 1)));
}
