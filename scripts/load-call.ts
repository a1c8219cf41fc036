// Measures a call with many guests on this machine, against the running product (npm start):
//   npm run --silent load-call -- 8 180
// Every guest is a real page with a line of its own. Prints one JSON object.
import { cpus } from 'node:os';
import { chromium, type Page } from '@playwright/test';
import { Guest, giveTones, makeEpisode } from '../e2e/guests';
import { Host } from '../e2e/host';
import { runningAddress } from './lock.mjs';

const [guests, seconds] = process.argv.slice(2).map(Number);
if (!Number.isInteger(guests) || guests < 1 || guests > 19 || !(seconds >= 10)) {
  console.error('Say how many guests (1 to 19) and for how many seconds (10 or more): npm run load-call -- 8 180');
  process.exit(1);
}
const address = await runningAddress();
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required'] });

async function newPage(width: number, height: number): Promise<Page> {
  const context = await browser.newContext({ baseURL: address, viewport: { width, height } });
  // The functions handed to pages below were compiled with calls of this helper.
  await context.addInitScript('globalThis.__name = (made) => made');
  return context.newPage();
}

const page = await newPage(1280, 800);
await giveTones(page, [310]);
const host = new Host(page);
const names = Array.from({ length: guests }, (_, k) => `Guest${k + 1} Ferry`);
const links = await makeEpisode(host, `Load with ${guests}`, names);
await host.startCall();
const pages: Guest[] = [];
for (const [k, link] of links.entries()) {
  const guestPage = await newPage(390, 844);
  await giveTones(guestPage, [400 + 90 * k]);
  await guestPage.goto(link);
  const guest = new Guest(guestPage, names[k], link);
  await guest.arrive();
  await host.lane(`Guest${k + 1}`).getByRole('button', { name: `Bring Guest${k + 1} up` }).click();
  await guest.isIn();
  pages.push(guest);
}
await host.record();

interface Sample {
  loadPercent: number;
  dropOuts: number;
}
const samples: Sample[] = [];
const ends = Date.now() + seconds * 1000;
while (Date.now() < ends) {
  await page.waitForTimeout(5000);
  const note = await page.getByRole('note', { name: 'This machine' }).innerText();
  samples.push({ loadPercent: Number(/(\d+) %/.exec(note)?.[1] ?? NaN), dropOuts: Number(/(\d+) drop-outs/.exec(note)?.[1] ?? 0) });
}
// Without waiting for the button to stand still: under this load a frame may take its time.
await host.recording().getByRole('button', { name: 'Stop' }).dispatchEvent('click');
await page.waitForTimeout(3000);
await Promise.all(pages.map((guest) => guest.close()));
await host.recording().getByText(/Take \d+ is safe/).waitFor({ timeout: 180_000 });
await host.openNewestTake();
const take = page.url().split('/').at(-1)!;
const reports = (await (await page.request.get(`/api/takes/${take}/lines`)).json()) as {
  report: Record<'toDesk' | 'toGuest', { delayMs: number | null; concealedMs: number; lossShare: number } | null>;
}[];
const middle = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const direction = (name: 'toDesk' | 'toGuest') => {
  const found = reports.flatMap(({ report }) => (report[name] ? [report[name]] : []));
  return {
    medianDelayMs: Math.round(middle(found.flatMap(({ delayMs }) => (delayMs === null ? [] : [delayMs])))),
    concealedShare: Number((found.reduce((sum, one) => sum + one.concealedMs, 0) / (found.length * 1000)).toFixed(5)),
    lostShare: Number((found.reduce((sum, one) => sum + one.lossShare, 0) / found.length).toFixed(5)),
  };
};
console.log(
  JSON.stringify({
    cores: cpus().length,
    guests,
    seconds,
    mixing: { medianPercent: middle(samples.map(({ loadPercent }) => loadPercent)), highestPercent: Math.max(...samples.map(({ loadPercent }) => loadPercent)) },
    dropOuts: samples.at(-1)?.dropOuts ?? null,
    gapsInTake: await page.getByRole('region', { name: 'Gaps' }).count(),
    reports: reports.length,
    toDesk: direction('toDesk'),
    toGuest: direction('toGuest'),
  }),
);
await page.getByRole('link', { name: 'Live', exact: true }).click();
await host.endCall();
await browser.close();
