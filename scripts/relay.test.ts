import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { connect } from 'node:tls';
import { afterAll, describe, expect, it } from 'vitest';
import { houseAddresses, ownCertificate } from './own-authority.mjs';
import { iceServers, relayUser } from '../src/server/message-box/ice';
import { endRelayed } from '../src/server/message-box/relay-console';
import { freePort, isFree } from './ports.mjs';
import { relayConfig, relayUrls, startRelay } from './relay.mjs';
import { writeCertificate } from './tls-files.mjs';

const folder = mkdtempSync(join(tmpdir(), 'relay-'));
afterAll(() => rmSync(folder, { recursive: true }));

describe('the relay', () => {
  it('lets nobody through it into what lies behind this machine, and its credentials run out', () => {
    const config = relayConfig({ realm: 'desk.example', secret: 'x' }) as string;
    for (const range of ['10.0.0.0-10.255.255.255', '127.0.0.0-127.255.255.255', '169.254.0.0-169.254.255.255', '192.168.0.0-192.168.255.255', '::1']) expect(config).toContain(`denied-peer-ip=${range}\n`);
    expect(config).toMatch(/^use-auth-secret$/m);
    expect(config).not.toMatch(/allowed-peer-ip|^lt-cred-mech/m);
    expect(relayUrls('desk.example')).toBe('turn:desk.example:3478?transport=udp,turn:desk.example:3478?transport=tcp,turns:desk.example:5349?transport=tcp');
  });

  it('speaks TLS as soon as there is a certificate, and with another one when that changes', async () => {
    const [certificate, port, tlsPort] = [join(folder, 'certificate.pem'), await freePort(), await freePort()];
    const [one, two] = ['one', 'two'].map((name) => ownCertificate(join(folder, name), ['127.0.0.1']) as { file: string; authority: string });
    const put = ({ file }: { file: string }) => writeCertificate(certificate, readFileSync(file, 'utf8'), '');
    /** Whether it shows a certificate of this authority. */
    const shows = ({ authority }: { authority: string }) =>
      new Promise<boolean>((resolve) => {
        const socket = connect({ host: '127.0.0.1', port: tlsPort, ca: readFileSync(authority) }, () => {
          resolve(true);
          socket.destroy();
        });
        socket.on('error', () => resolve(false));
      });
    const relay = await startRelay(join(folder, 'relay'), { name: '127.0.0.1', address: '127.0.0.1', port, tlsPort, certificate });
    try {
      // It runs, and has found no certificate.
      await expect.poll(() => isFree(port), { timeout: 10_000 }).toBe(false);
      expect(await shows(one)).toBe(false);
      put(one);
      await expect.poll(() => shows(one), { timeout: 15_000 }).toBe(true);
      put(two);
      await expect.poll(() => shows(two), { timeout: 15_000 }).toBe(true);
    } finally {
      await relay.stop();
    }
  });

  // It relays nothing to loopback.
  const [address] = houseAddresses() as string[];
  it.skipIf(address === undefined)('ends at once what goes through it for somebody who was put out, and for nobody else', async () => {
    const port = await freePort();
    const relay = await startRelay(join(folder, 'ended'), { name: address, address, port, allowed: [address] });
    /** Sends four streams of packets to itself through the relay for ten seconds, as coturn's own tool does; gives the share that came back. */
    const through = (seat: string) => {
      const [{ username, credential }] = iceServers(relayUser('episode', seat), Date.now(), { ...relay.environment }) as Required<{ username: string; credential: string }>[];
      const words = ['-y', '-u', username, '-w', credential, '-p', String(port), '-n', '250', '-z', '20', address];
      return new Promise<number>((resolve) => {
        execFile('turnutils_uclient', words, { timeout: 12_000 }, (_, said) => resolve(Number(/tot_recv_msgs=(\d+)(?![^]*tot_recv_msgs)/.exec(said)?.[1] ?? 0) / 1000));
      });
    };
    try {
      await expect.poll(() => isFree(Number(relay.environment.RELAY_CONSOLE.split(':')[0])), { timeout: 10_000 }).toBe(false);
      let over = false;
      const [out, stays] = [through('anna').finally(() => (over = true)), through('anna-2')];
      const end = (seat: string) => endRelayed('episode', seat, relay.environment.RELAY_CONSOLE);
      await expect.poll(() => end('anna'), { timeout: 8000 }).toBe(true);
      expect(await end('ann')).toBe(false);
      // The tool opens one way after another.
      while (!over) await end('anna');
      expect(await out).toBeLessThan(0.8);
      expect(await stays).toBeGreaterThan(0.95);
    } finally {
      await relay.stop();
    }
    // A relay that is away keeps nobody from ending a link.
    expect(await endRelayed('episode', 'anna', relay.environment.RELAY_CONSOLE)).toBe(false);
  });
});
