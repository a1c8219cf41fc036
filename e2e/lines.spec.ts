import { faultsIn } from './accessible';
import { expect, Host, test } from './host';
import { giveTones, Guest, makeEpisode, makeLink } from './guests';
import { SecondServer } from './second-server';
import { expectHears, heardTones } from './tones';

const HOST_HZ = 310;
/** Everything comes back by itself in this time after its cause has ended. */
const BACK_MS = 5000;

/** How long something takes, ms. */
async function took(work: () => Promise<void>): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

test.describe('what breaks comes back by itself', () => {
  test.use({ tolerated: [/ERR_CONNECTION_REFUSED|ERR_INCOMPLETE|ERR_ABORTED|ERR_EMPTY|502|ERR_CONNECTION_RESET|ERR_NETWORK_CHANGED|ERR_INTERNET_DISCONNECTED/] });

  test('guest and host on two instances; the guest’s is killed, the host reloads, the guest’s is back', async ({ host, page, browser }) => {
    const second = await SecondServer.start();
    try {
      await giveTones(page, [HOST_HZ]);
      const [link] = await makeEpisode(host, 'Two instances', ['Runa Velde']);
      await host.startCall();
      const runa = await Guest.open(browser, 'Runa', link.replace(/^http:\/\/[^/]+/, second.address), 523);
      await runa.arrive();
      await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
      await runa.isIn();

      // The call does not need the server that set it up.
      await second.kill();
      await expect(runa.page.getByText('The connection to the studio is broken')).toBeVisible();
      await runa.isIn();
      await expectHears(runa.page, HOST_HZ);
      await second.start();
      expect(await took(() => expect(runa.page.getByText('The connection to the studio is broken')).toBeHidden())).toBeLessThan(BACK_MS);

      // The desk is loaded again: the call goes on, with who was in it, and nobody else.
      page.on('dialog', (dialog) => void dialog.accept());
      await page.reload();
      await expect(page.getByRole('button', { name: 'End call' })).toBeVisible();
      expect(await took(() => runa.isIn())).toBeLessThan(BACK_MS);
      await expect(host.lane('Runa')).toContainText(/back after a loss|live/, { timeout: BACK_MS });
      await expect(host.lane('Runa').getByRole('button', { name: 'Send Runa back to waiting' })).toBeVisible();

      // The guest's page is loaded again: they are where they were.
      await runa.page.reload();
      expect(await took(() => runa.isIn())).toBeLessThan(BACK_MS);
      await expectHears(runa.page, HOST_HZ);

      // Who is in the call hears of its end, also where the server does not.
      await page.context().setOffline(true);
      await host.endCall();
      await runa.isWaiting();
      await page.context().setOffline(false);
      await runa.close();
    } finally {
      await second.kill();
    }
  });

  test('a desk whose window and server died together is the next window’s, without asking', async ({ host, page, browser }) => {
    await makeEpisode(host, 'A dead desk', ['Runa Velde']);
    const address = page.url();
    await page.goto('/');
    const second = await SecondServer.start();
    try {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
      const dying = await context.newPage();
      await dying.goto(address.replace(/^http:\/\/[^/]+/, second.address));
      await expect(dying.getByRole('button', { name: 'Start call' })).toBeVisible();
      await second.kill();
      await context.close();
      await page.goto(address);
      // Nobody can know yet whether that desk lives.
      await expect(page.getByRole('status', { name: 'This window' })).toContainText('This window watches');
      await expect(page.getByRole('button', { name: 'Start call' })).toBeVisible({ timeout: 25_000 });
      await host.startCall();
      await host.endCall();
    } finally {
      await second.kill();
    }
  });
});

test('a guest is let in, waits again, is removed in the middle of the call, and cannot come back by that link', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'In and out', ['Runa Velde']);
  await host.startCall();
  const runa = await Guest.open(browser, 'Runa', link, 523);
  await runa.arrive();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();
  await host.lane('Runa').getByRole('button', { name: 'Send Runa back to waiting' }).click();
  await runa.isWaiting();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();

  await host.lane('Runa').getByRole('button', { name: 'Line of Runa' }).click();
  const line = host.page.getByRole('dialog');
  await expect(line.getByRole('table')).toContainText(/Delay\s*\d+ ms|Delay\s*\d\.\d ms/);
  await expect(line.getByRole('img', { name: /Delay and loss over time/ })).toBeVisible();
  expect(await faultsIn(host.page, { part: '[role=dialog]', minor: true })).toEqual([]);
  await line.getByRole('button', { name: 'Ask for a reload' }).click();
  await runa.page.waitForEvent('load');
  await runa.isIn();
  await line.getByRole('button', { name: 'Remove from the call' }).click();
  await expect(runa.page.getByRole('heading', { level: 1 })).toHaveText('This link does not lead anywhere now');
  await expect(host.lane('Runa')).toContainText(/no link yet|has left|connection lost/);
  await runa.page.goto(link);
  await expect(runa.page.getByText('This link is no longer in use. Ask your host for a new one.')).toBeVisible();

  // A new link for the same seat begins in the waiting room.
  await host.page.getByRole('link', { name: 'Prepare' }).click();
  const again = await makeLink(host, 'Runa Velde');
  await host.page.getByRole('link', { name: 'Live', exact: true }).click();
  await runa.page.goto(again);
  await runa.arrive();
  await expect(host.lane('Runa')).toContainText('waiting to be brought up');
  await host.endCall();
  await runa.close();
});

test('junk, repeats and old messages from a guest’s own page do not break the call', async ({ host, page, browser }) => {
  await giveTones(page, [HOST_HZ]);
  const [link] = await makeEpisode(host, 'Junk in the box', ['Runa Velde']);
  await host.startCall();
  const runa = await Guest.open(browser, 'Runa', link, 523);
  await runa.arrive();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();
  const answers = await runa.page.evaluate(async (token) => {
    const window_ = sessionStorage.getItem('brisk-lantern-window');
    const connection = crypto.randomUUID();
    const junk = [
      { type: 'description', connection, description: { type: 'offer', sdp: 'v=0\r\nnonsense' } },
      { type: 'description', connection, description: { type: 'answer', sdp: 'm=audio 9 UDP/TLS/RTP/SAVPF 111\r\n'.repeat(200) } },
      { type: 'candidate', connection, candidate: { candidate: 'candidate:junk', sdpMid: '7', sdpMLineIndex: 7 } },
      { type: 'candidate', connection, candidate: null },
      { type: 'hung-up' },
      { type: 'status', phase: 'left' },
      'x'.repeat(60_000),
    ];
    const statuses: number[] = [];
    for (let k = 0; k < 42; k++) {
      const body = JSON.stringify({ window: window_, body: junk[(k * 5) % junk.length] });
      statuses.push((await fetch('/api/guest/messages', { method: 'POST', headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' }, body })).status);
    }
    return [...new Set(statuses)].sort();
  }, link.split('/').at(-1)!);
  expect(answers).toEqual([200, 400, 413]);
  await runa.isIn();
  await expect(host.lane('Runa')).toContainText('live');
  await expectHears(runa.page, HOST_HZ);
  await host.endCall();
  await runa.close();
});

test('two windows with one link: the second is told, may take over, and nobody is there twice', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'One link twice', ['Runa Velde']);
  await host.startCall();
  const first = await Guest.open(browser, 'Runa', link, 523);
  await first.arrive();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await first.isIn();
  const second = await Guest.open(browser, 'Runa again', link, 523);
  await expect(second.page.getByRole('heading', { name: 'This link is open in another window' })).toBeVisible();
  await first.isIn();
  await second.page.getByRole('button', { name: 'Use the link here instead' }).click();
  await expect(first.page.getByRole('heading', { name: 'This link is open in another window' })).toBeVisible();
  await second.comeIn();
  await second.isIn();
  await expect(host.lane('Runa')).toContainText(/back after a loss|live/);
  // Closing the page is a loss; leaving is not.
  await second.page.getByRole('button', { name: 'Leave' }).click();
  await expect(host.lane('Runa')).toContainText('has left');
  await host.endCall();
  await Promise.all([first.close(), second.close()]);
});

test.describe('a desk that moves', () => {
  // The window it left may still say something: it is told by 409 that the desk is another's.
  test.use({ tolerated: [/409 \(Conflict\).*\/messages/] });

  test('a second window of the desk watches, and takes over when asked, with the call', async ({ host, page, browser }) => {
    await giveTones(page, [HOST_HZ]);
    const [link] = await makeEpisode(host, 'Two desks', ['Runa Velde']);
    await host.startCall();
    const runa = await Guest.open(browser, 'Runa', link, 523);
    await runa.arrive();
    const context = await browser.newContext({ baseURL: test.info().project.use.baseURL, viewport: { width: 1280, height: 800 } });
    const other = await context.newPage();
    await giveTones(other, [HOST_HZ]);
    await other.goto(page.url());
    const banner = (at: typeof page) => at.getByRole('status', { name: 'This window' });
    await expect(banner(other)).toContainText('This window watches. The call runs there.');
    await expect(other.getByRole('button', { name: 'Start call' })).toBeHidden();
    // What the desk changes is seen here; nothing can be changed here.
    await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
    await expect(other.getByLabel('Send Runa back to waiting')).toBeVisible();
    await other.keyboard.press('d');
    await expect(page.getByRole('button', { name: /^Dim/ })).toHaveAttribute('aria-pressed', 'false');
    // What was recorded is worked on at any window.
    await host.record();
    await host.untilRecorded(2);
    await host.stop();
    await new Host(other).openNewestTake();
    await expect(banner(other)).toContainText('This window watches. The call runs there.');
    const solo = other.getByRole('button', { name: 'Solo Maren Sollis' });
    await solo.click();
    await expect(solo).toHaveAttribute('aria-pressed', 'true');

    await banner(other).getByRole('button', { name: 'Take over the desk here' }).click();
    await expect(other.getByRole('button', { name: 'End call' })).toBeVisible();
    await expect(banner(page)).toContainText('This window watches.');
    await runa.isIn();
    // The page of a guest says "in the call" until it notices that the old desk is gone, so the sound is asked.
    await expectHears(runa.page, HOST_HZ);
    await other.getByRole('button', { name: 'End call' }).click();
    await expect(other.getByRole('button', { name: 'Start call' })).toBeVisible();
    await context.close();
    await runa.close();
  });
});

test('a producer comes by link, hears the program and talks privately', async ({ host, page, browser }) => {
  await giveTones(page, [HOST_HZ]);
  const [guest] = await makeEpisode(host, 'With a producer', ['Runa Velde']);
  await page.getByRole('link', { name: 'Prepare' }).click();
  await page.getByRole('button', { name: 'Add somebody', exact: true }).click();
  const person = page.getByRole('form', { name: 'Add somebody' });
  await person.getByLabel('Full name').fill('Wen Talbot');
  await person.getByLabel('Takes part as').selectOption('producer');
  await person.getByRole('button', { name: 'Add', exact: true }).click();
  const producer = await makeLink(host, 'Wen Talbot');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const wen = await Guest.open(browser, 'Wen', producer, 1201);
  const runa = await Guest.open(browser, 'Runa', guest, 523);
  await runa.arrive();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();
  await wen.comeIn();
  await expect(wen.where()).toContainText('You hear the program');
  for (const hz of [HOST_HZ, 523]) await expectHears(wen.page, hz);
  // Where packets are late, sound is made up: noise in every band, now and then.
  expect((await heardTones(runa.page, [1201])).get(1201)!.usual).toBeLessThan(-80);
  await wen.page.getByRole('button', { name: 'Talk to Runa' }).click();
  await expect(runa.page.getByText('Wen is talking to you. Only you can hear it.')).toBeVisible();
  await expectHears(runa.page, 1201);
  // The others are turned down meanwhile, and the program knows nothing of it.
  await expect.poll(async () => Math.abs((await heardTones(runa.page, [HOST_HZ])).get(HOST_HZ)!.best + 32), { timeout: 45_000 }).toBeLessThan(1);
  expect((await heardTones(wen.page, [1201])).get(1201)!.usual).toBeLessThan(-80);
  await wen.close();
  await expect(runa.page.getByText('Wen is talking to you')).toBeHidden();
  await host.endCall();
  await runa.close();
});
