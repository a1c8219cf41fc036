import { faultsIn } from './accessible';
import { expect, test } from './host';

test('hear as: the phones carry another mix, and the desk says so until it is over', async ({ host, page }) => {
  // A browser asks for it by itself where it has not read of another yet; a 404 would be an error in its console.
  expect((await page.request.get('/favicon.ico')).status()).toBe(200);
  await host.openDesk();
  await host.startCall();
  const phones = page.getByRole('radiogroup', { name: 'Whose mix is in my phones' });
  await phones.getByRole('radio', { name: 'As Odalys' }).click();
  await expect(host.watch()).toContainText('You hear what Odalys hears, not your own mix.');
  await host.watch().getByRole('button', { name: 'Back to my mix' }).click();
  await expect(phones.getByRole('radio', { name: 'My mix' })).toBeChecked();
  await expect(host.watch()).not.toContainText('You hear what');
  await host.endCall();
});

test('pads play by key, show what is left, and stop at once; typing plays nothing', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  await page.keyboard.press('3');
  await expect(host.pad('River bed')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('1');
  await expect(host.pad('Opening theme')).toContainText('left');
  await expect(host.lane('Sounds')).toContainText(/peak −\d+/);
  await page.keyboard.press('x');
  await expect(host.pad('River bed')).toHaveAttribute('aria-pressed', 'false');
  await expect(host.pad('Opening theme')).toHaveAttribute('aria-pressed', 'false');
  await host.endCall();
});

test('a lane that is off is in no mix; its lamps say so in words', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  const lane = host.lane('Tomasz');
  await expect(lane.getByRole('img')).toHaveAccessibleName('Tomasz is heard by Maren, Odalys, Priya and the program.');
  await lane.getByRole('button', { name: 'Tomasz in the mixes' }).click();
  await expect(lane.getByRole('img')).toHaveAccessibleName('Nobody hears Tomasz.');
  await lane.getByRole('button', { name: 'Tomasz in the mixes' }).click();
  await expect(lane.getByRole('img')).toHaveAccessibleName(/^Tomasz is heard by/);
  await page.getByRole('link', { name: 'Ferry Weather · episode 14' }).click();
  const episode = page.getByRole('article', { name: 'The last chain ferry' });
  await expect(episode.getByText('the call is running')).toBeVisible();
  await episode.getByRole('link', { name: 'Open the desk' }).click();
  await host.endCall();
});

test('a take is played in step, with solo and mute', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  await host.record();
  await host.untilRecorded(3);
  await host.stop();
  await host.openNewestTake();
  await page.getByRole('button', { name: 'Solo Maren Sollis' }).click();
  await expect(page.getByRole('button', { name: 'Solo Maren Sollis' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Play all' }).click();
  await expect(page.getByRole('main')).toContainText(/0:0[1-9]/);
  // At the end it stops by itself, ready to begin again.
  await expect(page.getByRole('button', { name: 'Play all' })).toBeVisible();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.endCall();
});

test('no page scrolls at 1280×800, none has a serious accessibility fault, by night and by day', async ({ host, page }) => {
  // Sixteen screens, each looked at whole.
  test.setTimeout(400_000);
  const judge = async (where: string, rules?: string[]) => {
    // What is half faded in has half its contrast.
    await page.evaluate(() => Promise.all(document.getAnimations().filter(({ effect }) => effect?.getTiming().iterations !== Infinity).map((one) => one.finished.catch(() => undefined))));
    expect(await faultsIn(page, { rules }), where).toEqual([]);
  };
  // Beneath a dialog it cannot be pressed with the mouse. Once it was found set back, perhaps by a page that was asked for before the last change.
  const change = async (to: 'daylight' | 'night') => {
    const press = page.locator(`[aria-label="Change to the ${to} theme"]`);
    if ((await press.count()) > 0) await press.dispatchEvent('click');
    await expect(page.locator('html')).toHaveClass(to === 'night' ? /dark/ : /light/);
  };
  const inspect = async (where: string) => {
    await judge(`${where} by night`);
    // By day the screens are the same but for their colours.
    await change('daylight');
    await judge(`${where} by day`, ['color-contrast']);
    await change('night');
    // The list of episodes may be long; the rooms of an episode never scroll as a whole.
    if (where.startsWith('episodes')) return;
    const overflow = await page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight);
    expect(overflow, where).toBeLessThanOrEqual(0);
  };
  await page.goto('/');
  await inspect('episodes');
  // What was chosen is there with the first paint.
  await change('daylight');
  await page.reload();
  await page.getByRole('button', { name: 'Change to the night theme' }).click();
  await page.getByRole('link', { name: 'Settings of Ferry Weather' }).click();
  await expect(page.getByRole('region', { name: 'Keys' })).toBeVisible();
  await inspect('settings of the show');
  await host.openDesk();
  await inspect('idle desk');
  for (const room of ['Prepare', 'Hearing']) {
    await page.getByRole('link', { name: room, exact: true }).click();
    await expect(page.getByRole('region', { name: 'The audit' })).toBeVisible();
    await inspect(room);
  }
  await page.getByRole('link', { name: 'In and out' }).click();
  await expect(page.getByRole('region', { name: 'Outlets' })).toBeVisible();
  await inspect('In and out');
  await host.openSettings();
  await inspect('settings of the episode');
  await page.keyboard.press('?');
  await expect(page.getByRole('combobox', { name: 'What do you want to do?' })).toBeVisible();
  await inspect('keys and actions');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Sounds', exact: true }).click();
  await page.getByRole('button', { name: 'Practice controller' }).click();
  await inspect('Sounds');
  await page.getByRole('button', { name: 'Edit River bed' }).click();
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
  await inspect('sound editor');
  await page.getByRole('button', { name: 'Close the editor' }).click();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'How loud each hears Bed' }).click();
  await expect(page.getByRole('slider', { name: 'Level of Bed for callers' })).toBeVisible();
  await inspect('levels of a sound');
  await page.keyboard.press('Escape');
  await host.record();
  await host.untilRecorded(1);
  await inspect('live desk');
  await host.stop();
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Takes' })).toBeVisible();
  await inspect('takes');
  await host.openNewestTake();
  await inspect('take');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.endCall();
});
