// Takes the pictures of docs/screenshots from the running product (npm start) with its demo data.
import { chromium, type Page } from '@playwright/test';
import { giveSpeech, Guest, giveTones, makeEpisode, makeLink } from '../e2e/guests';
import { Host } from '../e2e/host';
import { runningAddress } from './lock.mjs';

const address = await runningAddress();
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required'] });
const context = await browser.newContext({ baseURL: address, viewport: { width: 1280, height: 800 } });
// The functions handed to pages were compiled with calls of this helper.
const helper = 'globalThis.__name = (made) => made';
await context.addInitScript(helper);
const page = await context.newPage();
const host = new Host(page);
const shoot = (name: string) => page.screenshot({ path: `docs/screenshots/${name}.png` });

await host.openDesk();
await host.startCall();
await page.getByRole('link', { name: 'Check', exact: true }).click();
await page.waitForTimeout(20_000);
await page.getByRole('button', { name: /^Measure/ }).first().click();
await page.getByRole('progressbar').waitFor();
await page.getByRole('button', { name: 'Measure again' }).waitFor({ timeout: 40_000 });
await page.waitForTimeout(8000);
await shoot('check');
await page.getByRole('link', { name: 'Live', exact: true }).click();
await host.recordMixes();
await shoot('show-settings');
await page.getByRole('button', { name: /^As in the show again/ }).click();
await page.getByRole('link', { name: 'Sounds', exact: true }).click();
await page.getByRole('region', { name: 'Library' }).waitFor();
await shoot('sounds');
await page.getByRole('button', { name: 'Edit River bed' }).click();
await page.getByRole('button', { name: 'Set loop points' }).waitFor();
await page.getByLabel('Fades in until, s').fill('1.2');
await page.getByLabel('Fades in until, s').press('Enter');
await page.waitForTimeout(1500);
await shoot('sound-editor');
await page.getByRole('button', { name: 'Undo the last change' }).click();
await page.waitForTimeout(500);
await page.getByRole('button', { name: 'Close the editor' }).click();
await page.getByRole('link', { name: 'Hearing', exact: true }).click();
await page.getByRole('gridcell', { name: /^Priya in Odalys/ }).focus();
await page.waitForTimeout(1500);
await shoot('hearing');
await page.getByRole('link', { name: 'Live', exact: true }).click();
await host.record();
await page.keyboard.press('3');
await host.untilRecorded(9);
await page.keyboard.press('2');
await host.untilRecorded(10);
await shoot('desk-live');
await host.untilRecorded(22);
await host.lane('Harbour').getByRole('button', { name: 'Line of Harbour' }).click();
await page.getByRole('dialog').waitFor();
await page.waitForTimeout(1200);
await shoot('pair-line');
await page.getByRole('button', { name: 'Close' }).click();
await host.stop();
await host.lane('Priya').getByRole('button', { name: /^What is done to Priya/ }).click();
const strip = page.getByRole('dialog', { name: /^Priya: what is done/ });
await strip.getByRole('button', { name: 'Set it for me' }).click();
await strip.getByText('Set by what was heard').waitFor({ timeout: 60_000 });
await strip.getByRole('region', { name: 'Even out' }).getByText(/^−\d/).first().waitFor({ timeout: 60_000 });
await shoot('strip');
await strip.getByRole('button', { name: 'Everything off' }).click();
await strip.getByRole('button', { name: 'Close' }).click();
await host.openNewestTake();
// The check takes a while; the outlines are drawn after their data has come.
await page.getByRole('button', { name: 'Check again' }).waitFor({ timeout: 120_000 });
await page.waitForTimeout(2000);
await shoot('take');
await context.addCookies([{ name: 'theme', value: 'day', url: address }]);
await page.getByRole('link', { name: 'Live', exact: true }).click();
await host.lane('Tomasz').waitFor();
await page.reload();
await host.lane('Tomasz').waitFor();
await page.getByRole('button', { name: 'End call' }).waitFor();
await page.waitForTimeout(3000);
await shoot('desk-daylight');
await host.endCall();
await context.addCookies([{ name: 'theme', value: 'night', url: address }]);
await guestPictures();
await manyGuests();
await page.goto('/');
await page.waitForTimeout(500);
await shoot('episodes');
await browser.close();

/** An episode with three guests: its preparation, their pages, and the desk with them. */
async function guestPictures(): Promise<void> {
  const links = await makeEpisode(host, 'Below the weir', ['Runa Velde', 'Ilyas Corm', 'Bettina Oak'], 16);
  await page.getByRole('link', { name: 'Prepare' }).click();
  await page.getByLabel('Microphone', { exact: true }).selectOption({ label: 'Made-up microphone' });
  await page.getByLabel('Phones', { exact: true }).selectOption({ label: 'Made-up headphones' });
  links[0] = await makeLink(host, 'Runa Velde');
  await page.waitForTimeout(3500);
  await page.getByRole('main').evaluate((main) => main.scrollTo(0, 0));
  await shoot('prepare');
  await page.getByLabel('Microphone', { exact: true }).selectOption({ index: 0 });
  await page.getByLabel('Phones', { exact: true }).selectOption({ index: 0 });
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const [runa, ilyas] = [await openGuest(links[0], (guestPage) => giveSpeech(guestPage)), await openGuest(links[1], (guestPage) => giveTones(guestPage, [787], 0.2))];
  const shootGuest = (name: string) => runa.page.screenshot({ path: `docs/screenshots/guest-${name}.png` });
  await runa.page.getByText('I agree that my voice').waitFor();
  await shootGuest('welcome');
  await runa.page.getByText('I agree that my voice').click();
  await runa.page.getByRole('button', { name: 'Go on to the sound check' }).click();
  await runa.page.getByRole('button', { name: 'Play the test sound' }).click();
  await runa.page.getByText('does not hear').waitFor();
  await runa.page.waitForTimeout(500);
  await shootGuest('check');
  await runa.page.getByRole('button', { name: 'Go to the waiting room' }).click();
  await runa.page.getByText('sees that you are here').waitFor();
  await ilyas.arrive();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();
  await page.getByRole('link', { name: 'Check', exact: true }).click();
  await page.getByRole('button', { name: 'Ask Runa what they hear' }).click();
  await runa.page.getByText('Do you hear Maren?').waitFor();
  await shootGuest('asked');
  for (const answer of ['Yes', 'Yes', 'No']) await runa.page.getByRole('button', { name: answer, exact: true }).click();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.record();
  await host.untilRecorded(10);
  await shootGuest('on-air');
  await host.stop();
  await host.endCall();
  await host.openNewestTake();
  await page.getByRole('article', { name: 'Runa Velde, best of both' }).waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Check again' }).waitFor({ timeout: 120_000 });
  await page.waitForTimeout(2500);
  await shoot('take-home');
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await page.getByRole('list', { name: 'Who is in it' }).waitFor();
  await page.waitForTimeout(1500);
  await shoot('takes');
  await page.goto('/');
}

async function openGuest(link: string, giveMicrophone: (page: Page) => Promise<void>): Promise<Guest> {
  const own = await browser.newContext({ viewport: { width: 390, height: 844 } });
  await own.addInitScript(helper);
  const guestPage = await own.newPage();
  await giveMicrophone(guestPage);
  await guestPage.goto(link);
  return new Guest(guestPage, '', link);
}

/** A desk with more people than cards have room for. */
async function manyGuests(): Promise<void> {
  await makeEpisode(host, 'The long table', []);
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  await page.getByRole('button', { name: 'Add somebody', exact: true }).click();
  const form = page.getByRole('form', { name: 'Add somebody' });
  await form.getByLabel('Full name').fill('Sanna Lund, Wen Talbot, Idun Halle, Baltasar Reyes, Chiyo Mori, Aud Strand, Bjarte Lien, Cosima Ferri, Dario Conti, Elin Aas, Frode Vik, Runa Velde');
  await form.getByRole('button', { name: 'Add 12' }).click();
  await page.getByRole('button', { name: 'Copy all invitations' }).waitFor({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await page.keyboard.press('1');
  await page.waitForTimeout(2500);
  await shoot('desk-many');
  await host.endCall();
}
