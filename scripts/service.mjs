// `npm start -- --install-service …`: a systemd unit that starts the product with the same words at boot, as a user of its own with
// the right to ports below 1024 and no other.
import { execFileSync, spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { makeUser, SERVICE_USER } from './own-user.mjs';
import { Trouble } from './trouble.mjs';

const UNIT = '/etc/systemd/system/brisk-lantern.service';

/** A word of a unit's command line (systemd.service, COMMAND LINES): quoted, and with nothing that stands for something else. */
const quoted = (word) => `"${word.replace(/[\\"]/g, '\\$&').replaceAll('%', '%%').replaceAll('$', '$$$$')}"`;

/**
 * The unit's text.
 * @param {{ node: string, folder: string, words: string[], user?: string, environment?: Record<string, string> }} options `words` of the start command
 */
export function unitText({ node, folder, words, user = SERVICE_USER, environment = {} }) {
  return `[Unit]
Description=Brisk Lantern
After=network-online.target
Wants=network-online.target

[Service]
User=${user}
WorkingDirectory=${folder}
${Object.entries(environment).map(([name, value]) => `Environment=${quoted(`${name}=${value}`)}\n`).join('')}ExecStart=${[node, 'scripts/start.mjs', ...words].map(quoted).join(' ')}
KillSignal=SIGINT
TimeoutStopSec=60
Restart=on-failure
RestartSec=5
AmbientCapabilities=CAP_NET_BIND_SERVICE
CapabilityBoundingSet=CAP_NET_BIND_SERVICE
NoNewPrivileges=yes
ProtectSystem=full
PrivateTmp=yes

[Install]
WantedBy=multi-user.target
`;
}

/** Settings that whoever installs the service has in their environment go along; secrets among them make the unit theirs alone. */
const KEPT = ['PORT', 'TLS_PORT', 'PLAIN_PORT', 'DATABASE_URL', 'PUBLIC_URL', 'ACME_DIRECTORY', 'TURN_URLS', 'TURN_SECRET', 'STUN_URLS', 'AIR_HOSTS', 'SECRET_KEY', 'METRICS_TOKEN', 'HOME_GIB_PER_SEAT', 'HOME_GIB_PER_TAKE', 'HOME_GIB_PER_SHOW', 'HOME_DEADLINE_HOURS'];
export const keptEnvironment = (settings) => Object.fromEntries(KEPT.flatMap((name) => (settings[name] === undefined ? [] : [[name, settings[name]]])));

/** @throws {Trouble} where there is no systemd, or it may not be done */
export function installService(words) {
  const text = unitText({ node: process.execPath, folder: process.cwd(), words, environment: keptEnvironment(process.env) });
  if (process.getuid?.() !== 0 || spawnSync('systemctl', ['--version']).status !== 0) {
    throw new Trouble(`A service is installed by root on a machine with systemd: sudo npm start -- --install-service …\nBy hand, put this into ${UNIT}:\n\n${text}`);
  }
  if (process.cwd().startsWith('/root')) throw new Trouble(`Nobody but root reaches ${process.cwd()}, and the service is not to be root. Move the folder to /opt/brisk-lantern and install it from there.`);
  makeUser();
  // It builds, keeps its database and its keys here.
  execFileSync('chown', ['-R', `${SERVICE_USER}:${SERVICE_USER}`, process.cwd()]);
  writeFileSync(UNIT, text, { mode: 0o600 });
  execFileSync('systemctl', ['daemon-reload']);
  execFileSync('systemctl', ['enable', '--now', 'brisk-lantern']);
  console.log('The service runs, and will after every start of the machine. What it says: journalctl -u brisk-lantern -f');
}
