// Measures what a desk of many lanes costs the page, against the running product:
//   npm run --silent load-desk -- 16 20
// Prints one JSON object: lanes, how many of them move, frames a second, and the share of the page's main thread in use.
import { chromium } from '@playwright/test';
import { makeEpisode } from '../e2e/guests';
import { Host } from '../e2e/host';
import { MOST_INPUTS } from '../src/core/limits';
import { runningAddress } from './lock.mjs';

const lanes = Number(process.argv[2] ?? 16);
const seconds = Number(process.argv[3] ?? 20);
/** The host, the sounds and the bed have lanes by themselves. */
const OTHERS = 3;
/** Sources that say something all the time; the rest are guests who have not come. */
const inputCount = Math.min(MOST_INPUTS, lanes - OTHERS);
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required'] });
const page = await (await browser.newContext({ baseURL: await runningAddress(), viewport: { width: 1280, height: 800 } })).newPage();
// The functions handed to the page below were compiled with calls of this helper.
await page.addInitScript('globalThis.__name = (made) => made');
const host = new Host(page);
await makeEpisode(host, 'Many lanes', []);
const guests = Array.from({ length: lanes - OTHERS - inputCount }, (_, k) => `Guest ${k + 1}`);
if (guests.length > 0) {
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  const form = page.getByRole('form', { name: 'Add somebody' });
  await form.getByLabel('Full name').fill(guests.join('\n'));
  await form.getByRole('button', { name: /^Add/ }).click();
  await form.waitFor({ state: 'hidden', timeout: 60_000 });
}
await host.openInAndOut();
const inputs = page.getByRole('region', { name: 'Inputs' });
for (let k = 1; k <= inputCount; k++) {
  await inputs.getByLabel('Name of a new input').fill(`Input ${k}`);
  await inputs.getByRole('button', { name: 'Add the input' }).click();
  await inputs.getByLabel(`Input ${k} comes by`, { exact: true }).selectOption({ label: k % 2 ? 'Made-up microphone' : 'Made-up cable 2' });
}
await page.getByRole('link', { name: 'Live', exact: true }).click();
await host.startCall();
await page.keyboard.press('3');
await page.waitForTimeout(5000);
const session = await page.context().newCDPSession(page);
await session.send('Performance.enable');
const busySeconds = async (): Promise<number> => (await session.send('Performance.getMetrics')).metrics.find(({ name }) => name === 'TaskDuration')!.value;
const before = await busySeconds();
// Traces and meters are drawn by a thread of their own, which counts its frames.
const counts = await Promise.all(page.workers().map(async (worker) => ({ worker, painted: await worker.evaluate(() => (globalThis as unknown as { framesPainted?: number }).framesPainted ?? -1) })));
const { worker: painter, painted } = counts.find((one) => one.painted >= 0)!;
const began = performance.now();
await page.waitForTimeout(seconds * 1000);
const framesPerSecond = Number((((await painter.evaluate(() => (globalThis as unknown as { framesPainted: number }).framesPainted)) - painted) / ((performance.now() - began) / 1000)).toFixed(1));
const share = ((await busySeconds()) - before) / seconds;
console.log(JSON.stringify({ lanes: await page.getByRole('region', { name: 'Lanes' }).getByRole('article').count(), moving: inputCount + 2, seconds, framesPerSecond, mainThreadShare: Number(share.toFixed(3)) }));
await host.endCall();
await browser.close();
