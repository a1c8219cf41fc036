import type { Locator, Page } from '@playwright/test';
import { expect, test } from './host';

/** More stops than any page has. */
const MOST_STOPS = 220;

/** Goes on with the Tab key until something has the focus, as somebody without a mouse does. */
async function reach(page: Page, target: Locator): Promise<void> {
  for (let stops = 0; stops < MOST_STOPS; stops++) {
    if (await target.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`The Tab key never came to ${target}.`);
}

test('an interview by keyboard alone, from the list of episodes to the exported file', async ({ host, page }) => {
  await host.openDesk();
  await page.goto('/');
  await reach(page, page.getByRole('article', { name: 'The last chain ferry' }).getByRole('link', { name: 'Open the desk' }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Start call' })).toBeEnabled();
  await reach(page, page.getByRole('button', { name: 'Start call' }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'End call' })).toBeVisible();
  await host.act('rec');
  await expect(host.recording().getByRole('button', { name: 'Stop' })).toBeVisible();

  // What has a key.
  const cough = page.getByRole('button', { name: 'Cough: keep Maren out' });
  for (const pressed of ['true', 'false']) {
    await host.tap('c');
    await expect(cough).toHaveAttribute('aria-pressed', pressed);
  }
  await page.keyboard.press('2');
  await expect(host.pad('Ship’s bell')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('x');
  await expect(host.pad('Ship’s bell')).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('k');
  await expect(page.getByRole('textbox', { name: 'Name of the last mark' })).toBeVisible();

  // What is reached with Tab.
  const listen = page.getByRole('button', { name: 'Listen to Odalys alone' });
  await reach(page, listen);
  await page.keyboard.press('Space');
  await expect(listen).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('m');
  await expect(listen).toHaveAttribute('aria-pressed', 'false');
  const gain = host.lane('Odalys').getByRole('slider', { name: 'Gain of Odalys' });
  await reach(page, gain);
  const before = Number(await gain.getAttribute('aria-valuenow'));
  await page.keyboard.press('ArrowLeft');
  await expect.poll(async () => Number(await gain.getAttribute('aria-valuenow'))).toBeLessThan(before);
  await page.keyboard.press('u');
  await expect.poll(async () => Number(await gain.getAttribute('aria-valuenow'))).toBe(before);

  // What is found by its name.
  await host.act('talk odal');
  await expect(page.getByText('Only Odalys hears you.')).toBeVisible();
  await host.act('stop talk odal');
  await expect(page.getByText('Only Odalys hears you.')).toBeHidden();
  await host.act('go hearing');
  const grid = page.getByRole('grid', { name: 'Who is heard by whom' });
  await reach(page, grid.locator('[tabindex="0"]').first());
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('region', { name: 'In words' })).not.toContainText('Choose a lamp');
  await host.untilRecorded(6);
  await host.act('stop rec');
  await expect(host.recording()).toContainText(/Take \d+ is safe/, { timeout: 60_000 });

  await host.act('go takes');
  const take = page.getByRole('main').getByRole('link', { name: /^Take \d+/ }).first();
  await expect(take).toBeVisible();
  await reach(page, take);
  await page.keyboard.press('Enter');
  const exporting = page.getByRole('region', { name: 'Export' });
  await expect(exporting).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await page.keyboard.press('Space');
  await reach(page, exporting.getByRole('link', { name: 'Download now' }));
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
  expect(download.suggestedFilename()).toMatch(/\.zip$/);
  await host.act('end call');
});
