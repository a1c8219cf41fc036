// Debian's test authority (pebble): issues certificates by ACME (RFC 8555) as a real one does, asking the name's plain port. For tests.
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { get } from 'node:https';
import { join } from 'node:path';
import { ownCertificate } from './own-authority.mjs';
import { freePort } from './ports.mjs';

export interface TestAuthority {
  /** Where it is asked, and the file of what its own address has to be trusted by. */
  directory: string;
  trustedBy: string;
  /** PEM: what it signs the certificates it issues by is signed by, and what it signs them by. */
  root(): Promise<string>;
  intermediate(): Promise<string>;
  programs: ChildProcess[];
}

/** @param plainPort where it asks whether a name is whose it says; all names stand for this machine */
export async function startTestAuthority(folder: string, plainPort: number): Promise<TestAuthority> {
  mkdirSync(folder, { recursive: true });
  const { file, authority } = ownCertificate(folder, ['localhost', '127.0.0.1']);
  const [port, management, dns, control] = [await freePort(), await freePort(), await freePort(), await freePort()];
  const config = join(folder, 'pebble.json');
  writeFileSync(config, JSON.stringify({ pebble: { listenAddress: `127.0.0.1:${port}`, managementListenAddress: `127.0.0.1:${management}`, certificate: file, privateKey: file, httpPort: plainPort, tlsPort: 1, ocspResponderURL: '', externalAccountBindingRequired: false } }));
  const names = spawn('pebble-challtestsrv', ['-defaultIPv4', '127.0.0.1', '-defaultIPv6', '', '-dns01', `127.0.0.1:${dns}`, '-http01', '', '-https01', '', '-tlsalpn01', '', '-management', `127.0.0.1:${control}`], { stdio: 'ignore' });
  const pebble = spawn('pebble', ['-config', config, '-dnsserver', `127.0.0.1:${dns}`, '-strict'], { stdio: 'ignore', env: { ...process.env, PEBBLE_VA_NOSLEEP: '1', PEBBLE_WFE_NONCEREJECT: '0' } });
  const ca = readFileSync(authority);
  for (let tries = 0; !(await ask(port, '/dir', ca).catch(() => null)); tries++) {
    if (tries === 100) throw new Error('The test authority did not start.');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return { directory: `https://localhost:${port}/dir`, trustedBy: authority, root: () => ask(management, '/roots/0', ca), intermediate: () => ask(management, '/intermediates/0', ca), programs: [names, pebble] };
}

function ask(port: number, path: string, ca: Buffer): Promise<string> {
  return new Promise((resolve, reject) => {
    const request = get({ port, host: '127.0.0.1', servername: 'localhost', path, ca, agent: false }, (response) => {
      let text = '';
      response.on('data', (part: Buffer) => (text += part.toString()));
      response.on('end', () => (response.statusCode === 200 ? resolve(text) : reject(new Error(text))));
    });
    request.on('error', reject);
  });
}
