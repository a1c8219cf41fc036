import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { houseAddresses } from '../scripts/own-authority.mjs';
import { startRelay } from '../scripts/relay.mjs';
import { freePort } from '../scripts/ports.mjs';
import { giveTones, Guest, makeEpisode } from './guests';
import { expect, test } from './host';
import { SecondServer } from './second-server';
import { expectHears } from './tones';
import { keepConnections, wayOf } from './way-of-calls';

const [HOST_HZ, GUEST_HZ] = [310, 523];

// The instance of this test's own is gone before its pages are.
test.use({ tolerated: [/ERR_INCOMPLETE|ERR_CONNECTION|ERR_ABORTED/] });

test('a guest whose network lets nothing through directly is heard, and hears, by the product’s own relay', async ({ host, page, browser }) => {
  const folder = mkdtempSync(join(tmpdir(), 'relay-'));
  const [address] = houseAddresses() as string[];
  test.skip(address === undefined, 'a machine without a network has nothing to relay over');
  const relay = await startRelay(folder, { name: address, address, port: await freePort(), allowed: [address] });
  const second = await SecondServer.start(relay.environment);
  try {
    await keepConnections(page, 'relay');
    await giveTones(page, [HOST_HZ]);
    const [link] = await makeEpisode(host, 'By the relay', ['Runa Velde']);
    await page.waitForURL(/\/live$/);
    await page.goto(page.url().replace(/^http:\/\/[^/]+/, second.address));
    await host.startCall();
    const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
    await context.route('**/api/guest/home', (route) => route.abort());
    const guestPage = await context.newPage();
    await keepConnections(guestPage, 'relay');
    await giveTones(guestPage, [GUEST_HZ]);
    const runa = new Guest(guestPage, 'Runa', link.replace(/^http:\/\/[^/]+/, second.address));
    await guestPage.goto(runa.link);
    await guestPage.getByText('I agree that my voice is recorded').click();
    await guestPage.getByRole('button', { name: 'Go on to the sound check' }).click();
    // Found out before anybody waits.
    await expect(guestPage.getByText('Your network lets the call through, by the relay if it must.')).toBeVisible({ timeout: 20_000 });
    await guestPage.getByRole('button', { name: 'Go to the waiting room' }).click();
    await runa.isWaiting();
    await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
    await runa.isIn();
    await expectHears(guestPage, HOST_HZ);
    expect(await wayOf(guestPage)).toEqual(['relay', 'relay']);
    await expect(host.lane('Runa')).toContainText('live');
    await host.endCall();
    await runa.close();

    // The settings say how it is reached, and a call is tried by any way and by the relay alone.
    await page.getByRole('link', { name: 'Show settings' }).click();
    const reach = page.getByRole('region', { name: 'Reach' });
    await expect(reach).toContainText('one thing is wrong');
    await expect(reach).toContainText('Only this machine reaches it.');
    await expect(reach).toContainText(`are given a relay: turn:${address}`);
    await reach.getByRole('button', { name: 'Try a call' }).click();
    await expect(reach).toContainText(/Through the relay alone it came about in \d+ ms/, { timeout: 20_000 });

    // Without the relay it is said to both, with what to do.
    await relay.stop();
    await reach.getByRole('button', { name: 'Try a call' }).click();
    await expect(reach).toContainText(/Through the relay alone it did not: /, { timeout: 30_000 });
    await expect(reach).toContainText('3 things are wrong');
    const again = await browser.newPage({ viewport: { width: 390, height: 844 } });
    await keepConnections(again, 'relay');
    await giveTones(again, [GUEST_HZ]);
    await again.goto(runa.link);
    await again.getByText('I agree that my voice is recorded').click();
    await again.getByRole('button', { name: 'Go on to the sound check' }).click();
    await expect(again.getByText('Your network lets no call through. Try another network, such as your phone’s, or ask who runs this one.')).toBeVisible({ timeout: 30_000 });
    await again.close();
  } finally {
    await second.kill();
    await relay.stop();
    rmSync(folder, { recursive: true });
  }
});
