// Takes the pictures of docs/screenshots from the running product (npm start) with its demo data.
import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { Host } from '../e2e/host';

const { address } = JSON.parse(readFileSync('data/running.json', 'utf8')) as { address: string };
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required'] });
const context = await browser.newContext({ baseURL: address, viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
const host = new Host(page);
const shoot = (name: string) => page.screenshot({ path: `docs/screenshots/${name}.png` });

await host.openDesk();
await shoot('desk-idle');
await host.startCall();
await host.record();
await page.keyboard.press('3');
await host.untilRecorded(9);
await page.keyboard.press('2');
await host.untilRecorded(10);
await shoot('desk-live');
await host.untilRecorded(22);
await host.stop();
await host.openNewestTake();
await page.waitForLoadState('networkidle');
await shoot('take');
await context.addCookies([{ name: 'theme', value: 'day', url: address }]);
await page.getByRole('link', { name: 'Live' }).click();
await page.reload();
await host.lane('Tomasz').getByText(/peak/).waitFor();
await shoot('desk-daylight');
await host.endCall();
await context.addCookies([{ name: 'theme', value: 'night', url: address }]);
await page.goto('/');
await shoot('episodes');
await browser.close();
