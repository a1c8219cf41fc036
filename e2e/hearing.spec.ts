import type { Page } from '@playwright/test';
import { expect, test, type Host } from './host';

/** The demo's Hearing screen, with the plan as the demo has it. */
async function openHearing(host: Host): Promise<void> {
  await host.openDesk();
  await host.page.getByRole('link', { name: 'Hearing', exact: true }).click();
  await expect(host.page.getByRole('grid', { name: 'Who is heard by whom' })).toBeVisible();
}

const words = (host: Host) => host.page.getByRole('region', { name: 'In words' });

test('the grid by keyboard: move, level, light, type a level, back to the rule, undo', async ({ host, page }) => {
  await openHearing(host);
  const cell = page.getByRole('gridcell', { name: /^Priya in Odalys’s return/ });
  await page.getByRole('gridcell', { name: /^Maren in Maren’s phones/ }).focus();
  await page.keyboard.press('ArrowRight');
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowDown');
  await expect(cell).toBeFocused();
  for (let k = 0; k < 3; k++) await page.keyboard.press('-');
  await expect(cell).toHaveAccessibleName('Priya in Odalys’s return: −3 dB, changed by hand');
  await expect(words(host)).toContainText('Odalys hears Maren, Tomasz, the computer, Priya at −3 dB, the sounds at −6 dB and the bed at −6 dB; never herself.');
  await page.keyboard.press(' ');
  await expect(cell).toHaveAccessibleName(/closed, changed by hand/);
  await page.keyboard.press('e');
  await page.keyboard.type('-12');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveAccessibleName(/−12 dB, changed by hand/);
  await cell.focus();
  await page.keyboard.press('Backspace');
  await expect(cell).toHaveAccessibleName('Priya in Odalys’s return: 0 dB');
  await page.keyboard.press('u');
  await expect(cell).toHaveAccessibleName(/−12 dB, changed by hand/);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(cell).toHaveAccessibleName('Priya in Odalys’s return: 0 dB');
});

test('an own voice has no lamp, and says so', async ({ host, page }) => {
  await openHearing(host);
  const own = page.getByRole('gridcell', { name: 'Tomasz in Tomasz’s return: own voice, no lamp can be fitted' });
  await own.focus();
  await page.keyboard.press(' ');
  await page.keyboard.press('+');
  await expect(words(host)).toContainText('Tomasz’s own voice has no place in Tomasz’s return.');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

/** Until the server has a plan like this: the tests after this one begin from what is kept. */
function keptPlan(page: Page, isLikeThis: (plan: string) => boolean) {
  return page.waitForResponse((response) => response.url().endsWith('/plan') && response.ok() && isLikeThis(response.request().postData() ?? 'Overflow room'));
}

test('whole rows and columns by mouse: a rule, a level, kept out of the program, feeds', async ({ host, page }) => {
  await openHearing(host);
  await page.getByRole('columnheader', { name: /^Priya/ }).getByRole('button').click();
  await page.getByLabel('What Priya’s return carries').selectOption('The host only');
  await expect(words(host)).toContainText('Priya hears Maren');
  await expect(page.getByRole('gridcell', { name: 'Odalys in Priya’s return: closed' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('rowheader', { name: /^Odalys/ }).getByRole('button').click();
  await page.getByRole('group', { name: 'Keep Odalys out of' }).getByText('the program').click();
  await expect(page.getByRole('gridcell', { name: 'Odalys in the program: off here, set to 0 dB' })).toBeVisible();
  await expect(words(host)).toContainText('Odalys is heard by Maren, Tomasz and Priya.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByLabel('Name of a new feed').fill('Overflow room');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('gridcell', { name: 'Maren in the feed “Overflow room”: 0 dB' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'The audit' })).toContainText('leaves the desk nowhere');
  const without = keptPlan(page, (plan) => !plan.includes('Overflow room'));
  await page.getByRole('button', { name: 'Remove the feed Overflow room' }).click();
  await expect(page.getByRole('columnheader', { name: /Overflow/ })).toHaveCount(0);
  await without;
});

test('the audit names the loudspeakers, its fix is one press, and undo brings them back', async ({ host, page }) => {
  await openHearing(host);
  const audit = page.getByRole('region', { name: 'The audit' });
  await expect(audit).toContainText('Tomasz’s loudspeakers reach Tomasz’s microphone: Maren, Odalys and Priya hear themselves −18 dB after 240 ms.');
  await audit.getByRole('button', { name: 'Tomasz has headphones on now' }).click();
  await expect(audit).toContainText('No loop, nothing doubled, nobody left out.');
  await expect(audit).toContainText('no loop');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(audit).toContainText('Tomasz’s loudspeakers');
  await audit.getByRole('button', { name: 'This is intended' }).first().click();
  await expect(audit).toContainText('Nothing but what is intended.');
  const unaccepted = keptPlan(page, (plan) => plan.includes('"accepted":{}'));
  await audit.getByRole('button', { name: 'Warn me again' }).click();
  await expect(audit).toContainText('1 urgent thing');
  await unaccepted;
});

test('a group is made in the settings and talked to in Live', async ({ host, page }) => {
  await host.openDesk();
  await host.openSettings();
  const groups = page.getByRole('region', { name: 'Groups to talk to' });
  // One that an earlier try left.
  while ((await groups.getByRole('button', { name: 'Remove the group the river' }).count()) > 0) await groups.getByRole('button', { name: 'Remove the group the river' }).first().click();
  await groups.getByText('Odalys', { exact: true }).click();
  await groups.getByText('Priya', { exact: true }).click();
  await page.getByLabel('Name of a new group').fill('the river');
  await groups.getByRole('button', { name: 'Add the group' }).click();
  await expect(groups).toContainText('the river: Odalys and Priya');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const talk = page.getByRole('button', { name: 'Talk to the river' });
  await talk.click();
  await expect(page.getByText('Only Odalys and Priya hear you.')).toBeVisible();
  await talk.click();
  await expect(page.getByText('You are in the call.')).toBeVisible();
  await host.endCall();
  await host.openSettings();
  const kept = page.waitForResponse((response) => response.url().endsWith('/plan') && response.ok());
  await groups.getByRole('button', { name: 'Remove the group the river' }).click();
  await kept;
});

test('keys are changed in the settings, shown on their control, and never shared', async ({ host, page }) => {
  await host.openDesk();
  await host.openSettings();
  const field = page.getByRole('textbox', { name: /^Key for: Cough/ });
  await field.focus();
  await page.keyboard.press('x');
  await expect(page.getByText('X is taken: Stop all sounds.')).toBeVisible();
  await page.keyboard.press('2');
  await expect(page.getByText('2 is taken: Ship’s bell.')).toBeVisible();
  await page.keyboard.press('j');
  await expect(field).toHaveValue('J');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Cough: keep Maren out' })).toContainText('J');
  await host.tap('j');
  await expect(page.getByRole('button', { name: 'Cough: keep Maren out' })).toHaveAttribute('aria-pressed', 'true');
  await host.tap('j');
  await host.openSettings();
  await field.focus();
  const kept = page.waitForResponse((response) => response.url().endsWith('/api/keys') && response.ok());
  await page.keyboard.press('c');
  await expect(field).toHaveValue('C');
  await kept;
});
