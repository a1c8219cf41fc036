// The product's own relay (TURN, RFC 8656): Debian's coturn, configured and kept running, for guests whose network lets no
// direct call through. Credentials run out by themselves; nobody gets through it into networks behind this machine.
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, watchFile, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { ensureInstalled } from './debian.mjs';
import { freePort } from './ports.mjs';
import { supervise } from './supervise.mjs';

export const RELAY_PORT = 3478;
export const RELAY_TLS_PORT = 5349;
/** Ports that calls go through; each place the relay gives out takes one. */
const CALL_PORTS = [49_160, 49_560];
/** Loopback, private, link-local, shared and multicast ranges (RFC 6890): what lies behind this machine. */
const DENIED = [
  '0.0.0.0-0.255.255.255', '10.0.0.0-10.255.255.255', '100.64.0.0-100.127.255.255', '127.0.0.0-127.255.255.255', '169.254.0.0-169.254.255.255',
  '172.16.0.0-172.31.255.255', '192.168.0.0-192.168.255.255', '224.0.0.0-255.255.255.255', '::1', 'fc00::-fdff:ffff:ffff:ffff:ffff:ffff:ffff:ffff', 'fe80::-febf:ffff:ffff:ffff:ffff:ffff:ffff:ffff',
];
/** Allocations of one user name (one window of one guest, with its tries) and of all. */
const [USER_QUOTA, TOTAL_QUOTA] = [24, 400];
const LOOK_EVERY_MS = 2000;

/**
 * @param {{ realm: string, secret: string, console?: { port: number, password: string } | null, port?: number, tlsPort?: number, certificate?: string | null, address?: string, allowed?: string[], log?: string }} options
 *   `console`: port and password by which the server ends what goes through it for whoever was put out;
 *   `log`: where it writes what it does; `address`: the one to listen and relay at; `allowed`: peers in spite of the denied ranges, for tests in such a range
 */
export function relayConfig({ realm, secret, console = null, port = RELAY_PORT, tlsPort = RELAY_TLS_PORT, certificate = null, address, allowed = [], log }) {
  return [
    `listening-port=${port}`,
    ...(certificate ? [`tls-listening-port=${tlsPort}`, `cert=${certificate}`, `pkey=${certificate}`, 'no-tlsv1', 'no-tlsv1_1'] : ['no-tls', 'no-dtls']),
    ...(address ? [`listening-ip=${address}`, `relay-ip=${address}`] : []),
    `min-port=${CALL_PORTS[0]}`,
    `max-port=${CALL_PORTS[1]}`,
    'fingerprint',
    'use-auth-secret',
    `static-auth-secret=${secret}`,
    `realm=${realm}`,
    `user-quota=${USER_QUOTA}`,
    `total-quota=${TOTAL_QUOTA}`,
    'stale-nonce=600',
    ...(console ? ['cli-ip=127.0.0.1', `cli-port=${console.port}`, `cli-password=${console.password}`] : ['no-cli']),
    'no-multicast-peers',
    'no-software-attribute',
    ...(log ? [`log-file=${log}`, 'simple-log'] : []),
    ...DENIED.map((range) => `denied-peer-ip=${range}`),
    ...allowed.map((one) => `allowed-peer-ip=${one}`),
    '',
  ].join('\n');
}

/** Where browsers find it. */
export const relayUrls = (name, port = RELAY_PORT, tlsPort = RELAY_TLS_PORT, byTls = true) =>
  [`turn:${name}:${port}?transport=udp`, `turn:${name}:${port}?transport=tcp`, ...(byTls ? [`turns:${name}:${tlsPort}?transport=tcp`] : [])].join(',');

function sharedSecret(folder) {
  const file = join(folder, 'relay-secret');
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}

/**
 * Starts the relay, with what the server must be told of it. It takes another certificate up by itself.
 * @param {string} folder for its settings
 * @param {object} options as for {@link relayConfig}, with the name browsers know it by
 */
export async function startRelay(folder, { name, ...options }) {
  await ensureInstalled({ turnserver: 'coturn' });
  mkdirSync(folder, { recursive: true });
  const secret = sharedSecret(folder);
  const console = { port: await freePort(), password: randomBytes(18).toString('base64url') };
  const file = resolve(folder, 'relay.conf');
  writeFileSync(file, relayConfig({ realm: name, secret, console, log: resolve(folder, 'relay.log'), ...options }), { mode: 0o600 });
  const { certificate, port, tlsPort } = options;
  let byTls = false;
  const relay = supervise('The relay', () => {
    byTls = Boolean(certificate) && existsSync(certificate);
    return spawn('turnserver', ['-c', file, '--pidfile', resolve(folder, 'relay.pid')], { stdio: 'ignore', detached: true });
  });
  // coturn reads its certificate again when it is told to; one that began without one has no listener for TLS and begins anew.
  if (certificate) watchFile(certificate, { interval: LOOK_EVERY_MS, persistent: false }, () => relay.current().kill(byTls ? 'SIGUSR2' : 'SIGTERM'));
  return { environment: { TURN_URLS: relayUrls(name, port, tlsPort, Boolean(certificate)), TURN_SECRET: secret, RELAY_CONSOLE: `${console.port}:${console.password}` }, stop: relay.stop };
}
