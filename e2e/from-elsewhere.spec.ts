import { spawn } from 'node:child_process';
import { createHash, X509Certificate } from 'node:crypto';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser } from '@playwright/test';
import { freePort } from '../scripts/ports.mjs';
import { startRelay } from '../scripts/relay.mjs';
import { startTestAuthority } from '../scripts/test-authority';
import { FarNetwork } from './far-network';
import { makeAccount, makeFirstEpisode, untouchedDatabase } from './first-run';
import { giveTones, Guest, makeLink } from './guests';
import { everybodyCanUse, expect, Host, test } from './host';
import { SecondServer } from './second-server';
import { downloadTrack } from './take-files';
import { bestToneDb, expectHears, steadyToneDb } from './tones';
import { keepConnections, wayOf } from './way-of-calls';

const NAME = 'desk.example';
const [HOST_HZ, GUEST_HZ] = [310, 523];
const AMPLITUDE = 0.1;

/** Starts a program in a world where the name leads to this machine (mount_namespaces(7)). */
const withName = (hosts: string): string[] => ['unshare', '--mount', 'sh', '-c', `mount --bind ${hosts} /etc/hosts && exec "$@"`, 'sh'];

test('from nothing to a guest elsewhere: by a name, with an authority’s certificate, from a network without a way to the host’s, through the relay, on air and recorded', async () => {
  test.setTimeout(400_000);
  const [near, far] = [FarNetwork.make(), FarNetwork.make()];
  test.skip(!near || !far, 'only root may make networks');
  const folder = mkdtempSync(join(tmpdir(), 'elsewhere-'));
  const undo: (() => unknown)[] = [() => rmSync(folder, { recursive: true }), () => near!.remove(), () => far!.remove()];
  try {
    // What the start command does for --public, one after another; a name that is only ours needs an authority that is.
    const database = untouchedDatabase('elsewhere');
    const [tls, plain, turn, turns] = [await freePort(), await freePort(), await freePort(), await freePort()];
    const [certificate, challenges] = [join(folder, 'certificate.pem'), join(folder, 'challenges')];
    const authority = await startTestAuthority(join(folder, 'authority'), plain);
    undo.push(() => authority.programs.forEach((one) => one.kill()));
    const relay = await startRelay(join(folder, 'relay'), { name: NAME, port: turn, tlsPort: turns, certificate, allowed: [near!.machine, far!.machine] });
    undo.push(() => relay.stop());
    const address = `https://${NAME}:${tls}`;
    const hosts = join(folder, 'hosts');
    writeFileSync(hosts, `127.0.0.1 localhost ${NAME}\n`);
    const root = join(folder, 'root.pem');
    writeFileSync(root, await authority.root());
    const server = await SecondServer.start({ NODE_EXTRA_CA_CERTS: root, DATABASE_URL: database, DEMO: '0', SETUP_CODE: 'north-pier-9', PUBLIC_URL: address, TLS_CERT: certificate, TLS_KEY: certificate, TLS_PORT: String(tls), PLAIN_PORT: String(plain), CHALLENGES: challenges, ...relay.environment }, withName(hosts));
    undo.push(() => server.kill());
    const acme = spawn(process.execPath, ['scripts/acme.mjs'], { stdio: 'ignore', env: { ...process.env, ACME_NAME: NAME, ACME_DIRECTORY: authority.directory, TLS_FILE: certificate, CHALLENGES: challenges, ACME_LOOK_SECONDS: '1', NODE_EXTRA_CA_CERTS: authority.trustedBy } });
    undo.push(() => acme.kill());
    await expect.poll(() => existsSync(certificate), { timeout: 30_000 }).toBe(true);

    // Browsers that trust what this authority signs, and nothing else that is wrong.
    const issuer = new X509Certificate(await authority.intermediate());
    const spki = createHash('sha256').update(issuer.publicKey.export({ type: 'spki', format: 'der' })).digest('base64');
    const browserIn = async (network: FarNetwork): Promise<Browser> => {
      const browser = await chromium.launch({
        executablePath: network.wrap(folder, '/usr/bin/chromium'),
        args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required', '--disable-background-networking', '--no-first-run', `--host-resolver-rules=MAP ${NAME} ${network.machine}`, `--ignore-certificate-errors-spki-list=${spki}`],
      });
      undo.push(() => browser.close());
      return browser;
    };
    expect([near!.hasWayTo(far!.own), far!.hasWayTo(near!.own), near!.hasWayTo(near!.machine)], 'the two have no way to one another').toEqual([false, false, true]);

    const pageIn = async (network: FarNetwork, width: number, height: number) => (await (await browserIn(network)).newContext({ viewport: { width, height }, reducedMotion: 'reduce' })).newPage();
    const page = await pageIn(near!, 1280, 800);
    const host = new Host(page);
    await keepConnections(page);
    await giveTones(page, [HOST_HZ], AMPLITUDE);
    await page.goto(address);
    await page.getByLabel('Setup code').fill('north-pier-9');
    await makeAccount(page, 'Sanna Oduya', 'sanna@ferry.example');
    await expect(page.getByRole('heading', { name: 'Five steps to your first interview' })).toBeVisible();
    await everybodyCanUse(page);
    await makeFirstEpisode(page, 'Ebbe Lund');
    const link = await makeLink(host, 'Ebbe');
    expect(link.startsWith(`${address}/`), link).toBe(true);
    await page.getByRole('link', { name: 'Show settings' }).click();
    // *Prepare* has the same panel, and goes away with what was begun in it.
    await expect(page.getByRole('link', { name: 'Show settings' })).toHaveAttribute('aria-current', 'page');
    const reach = page.getByRole('region', { name: 'Reach' });
    await expect(reach).toContainText(`The name ${NAME} leads to this machine.`);
    await expect(reach).toContainText('It answers at that address, asked from this machine.');
    await expect(reach).toContainText(`The certificate for ${NAME} holds for`);
    await expect(reach).toContainText('nothing is wrong');
    await reach.getByRole('button', { name: 'Try a call' }).click();
    await expect(reach).toContainText(/Through the relay alone it came about in \d+ ms/, { timeout: 20_000 });
    await everybodyCanUse(page);
    await page.getByRole('link', { name: 'Live', exact: true }).click();
    await host.startCall();

    const guestPage = await pageIn(far!, 390, 844);
    await keepConnections(guestPage);
    await giveTones(guestPage, [GUEST_HZ], AMPLITUDE);
    await guestPage.goto(link);
    const ebbe = new Guest(guestPage, 'Ebbe', link);
    await ebbe.comeIn();
    await ebbe.isWaiting();
    await host.lane('Ebbe').getByRole('button', { name: 'Bring Ebbe up' }).click();
    await ebbe.isIn();
    await expectHears(guestPage, HOST_HZ);
    expect(await wayOf(guestPage)).toContain('relay');

    await host.record();
    await host.untilRecorded(8);
    await host.stop();
    await host.openNewestTake();
    const track = await downloadTrack(page, 'Ebbe Lund');
    expect(Math.abs(bestToneDb(track, GUEST_HZ) + 20), 'the guest’s voice on the guest’s track').toBeLessThan(2);
    // Where packets were late, sound is made up; what came back would be there all the time.
    expect(steadyToneDb(track, HOST_HZ), 'the host on the guest’s track').toBeLessThan(-75);
  } finally {
    for (const step of undo.toReversed()) await step();
  }
});
