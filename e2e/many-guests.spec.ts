import { expect, test, type Host } from './host';
import { misplaced, sideways } from './misplaced';
import { Guest, giveTones, makeEpisode } from './guests';
import { expectHears } from './tones';

const SIZES = [[1024, 768], [1280, 800], [1920, 1080]] as const;
const NAMES = ['Odalys Brandt', 'Tomasz Wierzba', 'Idun Halle', 'Baltasar Reyes', 'Chiyo Mori', 'Aud Strand', 'Bjarte Lien', 'Cosima Ferri', 'Dario Conti', 'Elin Aas', 'Frode Vik', 'Guest 1', 'Guest 2', 'Guest 3', 'Guest 4', 'Guest 5'];

/** So many guests, one after the other. */
const STAGES = [1, 3, 6, 12, 16];

test('for one guest or sixteen, every control of desk and grid can be reached on any screen', async ({ host, page }) => {
  await makeEpisode(host, 'The long table', []);
  await host.startCall();
  const lanes = page.getByRole('region', { name: 'Lanes' });
  for (const [k, count] of STAGES.entries()) {
    const names = NAMES.slice(STAGES[k - 1] ?? 0, count);
    await page.getByRole('link', { name: 'Prepare', exact: true }).click();
    await page.getByRole('button', { name: 'Add somebody', exact: true }).click();
    const form = page.getByRole('form', { name: 'Add somebody' });
    await form.getByLabel('Full name').fill(names.join('\n'));
    await form.getByRole('button', { name: /^Add( \d+)?$/ }).click();
    await expect(form).toBeHidden({ timeout: 45_000 });
    await expect(page.getByRole('textbox', { name: `Link for ${names.at(-1)!.startsWith('Guest') ? names.at(-1) : names.at(-1)!.split(' ')[0]}` })).toHaveValue(/\/join\//);
    for (const [width, height] of SIZES) {
      await page.setViewportSize({ width, height });
      await page.getByRole('link', { name: 'Live', exact: true }).click();
      await expect(lanes.getByRole('article')).toHaveCount(count + 3);
      // From the first look on: what moves to its place in the next seconds is pressed wrongly.
      expect(await misplaced(lanes, 'at once'), `lanes of ${count} at ${width} × ${height}`).toEqual([]);
      await page.getByRole('link', { name: 'Hearing', exact: true }).click();
      const grid = page.getByRole('grid', { name: 'Who is heard by whom' });
      await expect(grid.getByRole('gridcell').first()).toBeVisible();
      await expect.poll(() => misplaced(grid, 'at once'), `grid of ${count} at ${width} × ${height}`).toEqual([]);
    }
  }
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  // What is not used on air opens from the lane.
  await page.getByRole('button', { name: 'More of Guest 4' }).click();
  await expect(page.getByRole('slider', { name: 'Gain of Guest 4' })).toBeVisible();
  await page.keyboard.press('Escape');
  await host.endCall();
  // What is no part of the desk may be scrolled down, and never sideways.
  for (const [width, height] of SIZES) {
    await page.setViewportSize({ width, height });
    await expect.poll(() => misplaced(page.getByRole('banner'), 'at once'), `header at ${width} × ${height}`).toEqual([]);
    for (const room of ['Prepare', 'Sounds', 'In and out', 'Check', 'Takes', 'Show settings']) await expectReachable(host, room, `${room} at ${width} × ${height}`);
  }
});

/** Every control of a room can be scrolled to, downwards only. */
async function expectReachable(host: Host, room: string, where: string): Promise<void> {
  const { page } = host;
  if (room === 'In and out') await host.openInAndOut();
  else await page.getByRole('link', { name: room, exact: true }).click();
  const main = page.getByRole('main');
  await expect(main.getByRole('heading').first()).toBeVisible();
  await expect.poll(() => misplaced(main, 'scrolled'), where).toEqual([]);
  expect(await sideways(main), where).toBeLessThanOrEqual(0);
}

test('enlarged twofold nothing of the demo is lost', async ({ host, page }) => {
  await host.openDesk();
  // What a window of 1280 × 800 has at 200 %.
  await page.setViewportSize({ width: 640, height: 400 });
  for (const room of ['Live', 'Prepare', 'Sounds', 'In and out', 'Takes', 'Show settings']) await expectReachable(host, room, `${room}, enlarged`);
  await page.setViewportSize({ width: 1024, height: 768 });
  await page.getByRole('link', { name: 'Check', exact: true }).click();
  expect(await sideways(page.getByRole('region', { name: 'How everybody sounds' })), 'how everybody sounds, on a small screen').toBeLessThanOrEqual(0);
  await page.setViewportSize({ width: 640, height: 400 });
  await expect.poll(() => misplaced(page.getByRole('banner'), 'scrolled')).toEqual([]);
  expect(await sideways(page.locator('html'))).toBeLessThanOrEqual(0);
});

test('from an episode to three guests who hear the host: three actions, and the calls, within a minute of the host’s time', async ({ host, page, browser }) => {
  await giveTones(page, [440]);
  await makeEpisode(host, 'Three at once', []);
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  // Guests are asked for at once. One: their names. Two: they are added. Three: all invitations are copied.
  const began = Date.now();
  const form = page.getByRole('form', { name: 'Add somebody' });
  await form.getByLabel('Full name').fill('Runa Velde, Ilyas Corm, Bettina Oak');
  await form.getByRole('button', { name: 'Add 3', exact: true }).click();
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.getByRole('button', { name: 'Copy all invitations' }).click();
  await expect(page.getByRole('button', { name: 'Copied 3 invitations' })).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  const links = text.match(/https?:\S+\/join\/\S+/g) ?? [];
  expect(links).toHaveLength(3);
  expect(text).toContain('Ilyas, this is your link to “Three at once”');

  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  expect(Date.now() - began, 'what the host does before anybody comes').toBeLessThan(60_000);
  const guests = await Promise.all(links.map((link, k) => Guest.open(browser, ['Runa', 'Ilyas', 'Bettina'][k], link, 600 + 200 * k)));
  for (const guest of guests) {
    await guest.arrive();
    await page.getByRole('button', { name: `Bring ${guest.name} up` }).first().click();
    await guest.isIn();
  }
  for (const guest of guests) await expectHears(guest.page, 440);
  for (const guest of guests) await guest.close();
  await host.endCall();
});
