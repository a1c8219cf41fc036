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
await page.getByRole('link', { name: 'Prepare' }).click();
await page.getByRole('region', { name: 'Outside the desk' }).waitFor();
await shoot('prepare');
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
await host.stop();
await host.openNewestTake();
// The outlines are drawn after their data has come.
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
await page.goto('/');
await shoot('episodes');
await browser.close();
