import type { Page } from '@playwright/test';
import { addLine } from './devices-host';
import { makeEpisode } from './guests';
import { expect, test, type Host } from './host';

const cable = (n: number) => `Made-up cable ${n}`;

async function open(host: Host, title: string): Promise<Page> {
  await makeEpisode(host, title, []);
  await host.page.getByRole('link', { name: 'Prepare', exact: true }).click();
  return host.page;
}

const choose = (page: Page, label: string, device: string) => page.getByLabel(label, { exact: true }).selectOption({ label: device });

test('a newcomer without a sound card adds somebody by another program, proves the line in both directions and hears what is wrong with it', async ({ host }) => {
  const page = await open(host, 'Made-up cables');
  const began = Date.now();
  expect(await addLine({ page }, 'Harbour', cable(2), cable(1))).toContain('Connected both ways');
  expect(Date.now() - began, 'from the first press to the proof').toBeLessThan(60_000);
  const seat = page.getByRole('article', { name: 'Harbour' });
  await seat.getByRole('button', { name: 'Devices of Harbour' }).click();
  await expect(seat).toContainText('devices are there');
  await expect(seat).toContainText(`microphone “${cable(1)}”, loudspeaker “${cable(2)}”`);

  const prove = async () => {
    await page.getByRole('link', { name: 'Prepare', exact: true }).click();
    const ends = seat.getByRole('button', { name: 'Devices of Harbour' });
    if ((await ends.getAttribute('aria-expanded')) === 'false') await ends.click();
    await seat.getByRole('button', { name: 'Prove the line of Harbour' }).click();
    const status = seat.getByRole('status', { name: 'The line of Harbour' });
    await expect(status).not.toContainText('Sending', { timeout: 30_000 });
    const words = await status.innerText();
    await seat.getByRole('button', { name: /^(Done|Later)$/ }).click();
    return words;
  };
  const program = page.getByRole('region', { name: 'Made-up outside program' });
  await host.openInAndOut();
  await program.getByRole('button', { name: 'Sends everything back' }).click();
  expect(await prove()).toMatch(/Connected, with an echo[\s\S]*comes back at −\d+ dB after 1\d\d ms/);
  await host.openInAndOut();
  await program.getByRole('button', { name: 'Sends everything back' }).click();
  await program.getByLabel('People at the far end').selectOption('nobody there');
  expect(await prove()).toContain('Nothing comes back');
  await choose(page, 'Harbour hears me by', cable(2));
  expect(await prove()).toMatch(/The two ends are one cable/);
  await expect(page.getByRole('region', { name: 'The audit' })).toContainText('Both ends of Harbour’s line are one cable');
});

test('what is plugged in wrongly is found, named, and pulled by one press', async ({ host }) => {
  const page = await open(host, 'Wrong ends');
  const audit = page.getByRole('region', { name: 'The audit' });
  expect(await addLine({ page }, 'Harbour', cable(2), cable(1))).toContain('Connected');
  await addLine({ page }, 'Quay', cable(3), 'Made-up headphones');
  for (const name of ['Harbour', 'Quay']) await page.getByRole('button', { name: `Devices of ${name}` }).click();
  const find = async (words: RegExp, mend: RegExp): Promise<void> => {
    const finding = audit.getByRole('group', { name: words });
    await expect(finding).toBeVisible();
    await finding.getByRole('button', { name: mend }).first().click();
    await expect(finding).toBeHidden();
  };
  await choose(page, 'Quay hears me by', cable(1));
  await find(/returns of Harbour and Quay leave by one output/, /^Unplug Quay’s return/);
  await expect(audit).toContainText('Quay’s line has an input only');
  await choose(page, 'Quay hears me by', 'Made-up headphones');
  await expect(audit).not.toContainText('Quay’s line has');

  await choose(page, 'Phones', 'Made-up headphones');
  await find(/where your own phones are/, /^Unplug Quay’s return/);
  await choose(page, 'Quay hears me by', cable(3));
  await expect(audit).toContainText('Both ends of Quay’s line are one cable');
  await choose(page, 'Quay hears me by', cable(2));
  await find(/Harbour comes from “Made-up cable 2”, which carries Quay’s return/, /^Unplug/);
  await choose(page, 'I hear Harbour by', cable(3));
  await find(/Quay and Harbour come from the same input/, /^Unplug Quay/);
  await choose(page, 'I hear Harbour by', cable(2));
  await choose(page, 'Quay hears me by', 'no output');

  await host.openInAndOut();
  const outlets = page.getByRole('region', { name: 'Outlets' });
  await outlets.getByLabel('leaves by').selectOption({ label: cable(2) });
  await outlets.getByRole('button', { name: 'Add the outlet' }).click();
  await find(/The program leaves by .*, which is where Harbour comes from/, /^Unplug the program/);
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  await choose(page, 'Microphone', 'Made-up microphone');
  await page.getByText('Devices of this computer').click();
  await expect(audit).not.toContainText('Your phones are');
});

test('an input that is nobody’s voice, several people on one line, and a clock that runs apart: heard, named and recorded', async ({ host, page }) => {
  await open(host, 'One line, two people');
  await page.getByRole('button', { name: 'Add somebody by another program' }).click();
  const form = page.getByRole('form', { name: 'Add somebody by another program' });
  await form.getByLabel('Who it is').fill('Harbour office');
  await form.getByLabel('Several people there? Their names').fill('Ines, Anselm');
  await form.getByLabel('I hear them by').selectOption({ label: cable(2) });
  await form.getByLabel('They hear me by').selectOption({ label: cable(1) });
  await form.getByRole('button', { name: 'Connect' }).click();
  await expect(form.getByRole('status')).toContainText('Connected', { timeout: 30_000 });
  await form.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('article', { name: 'Harbour office' })).toContainText('Ines and Anselm');
  await host.openInAndOut();
  const program = page.getByRole('region', { name: 'Made-up outside program' });
  await program.getByLabel('People at the far end').selectOption('two people');
  await program.getByRole('button', { name: 'Clock 300 ppm fast' }).click();
  const inputs = page.getByRole('region', { name: 'Inputs' });
  await inputs.getByLabel('Name of a new input').fill('Record player');
  await inputs.getByRole('button', { name: 'Add the input' }).click();
  await choose(page, 'Record player comes by', 'Made-up microphone');
  await expect(inputs.getByRole('group', { name: 'Level of Record player' })).toContainText('dBFS', { timeout: 20_000 });

  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const lane = host.lane('Harbour office');
  await expect(lane.getByRole('button', { name: 'Line of Harbour office' })).toContainText('live', { timeout: 30_000 });
  await expect(host.lane('Record player')).toContainText('Made-up microphone');
  await host.record();
  // Within a minute it is known that the clock runs apart, and by how much.
  await lane.getByRole('button', { name: 'Line of Harbour office' }).click();
  const panel = page.getByRole('dialog', { name: /^Harbour office/ });
  await expect(panel).toContainText(/(2[2-9]\d|3[0-7]\d) ppm fast/, { timeout: 75_000 });
  await panel.getByRole('button', { name: 'Close' }).click();
  await host.stop();
  await host.openNewestTake();
  await expect(page.getByText('Harbour office (Ines and Anselm)').first()).toBeVisible();
  await expect(page.getByText('Record player').first()).toBeVisible();
});
