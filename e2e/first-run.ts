import { execFileSync } from 'node:child_process';
import type { Page } from '@playwright/test';

/** What a script of the product says, run as whoever looks after a server runs it. */
export const run = (script: string, words: string[], environment: Record<string, string> = {}): string =>
  execFileSync(process.execPath, ['--import', 'tsx', script, ...words], { encoding: 'utf8', env: { ...process.env, ...environment } }).trim();

/** The address of a database of its own, as the product finds it the first time: no demo, nobody in it. */
export function untouchedDatabase(name: string): string {
  const database = run('scripts/new-database.ts', [process.env.BROWSER_DATABASE_URL!, name]);
  run('src/server/prepare.ts', [], { DATABASE_URL: database, DEMO: '0' });
  return database;
}

export async function makeAccount(page: Page, name: string, email: string): Promise<void> {
  await page.getByLabel('Your name').fill(name);
  await page.getByLabel('E-mail address').fill(email);
  await page.getByLabel('Password').fill('a long enough rope');
  await page.getByRole('button', { name: 'Make the account' }).click();
}

/** The first show, its first episode, and somebody who is asked. */
export async function makeFirstEpisode(page: Page, guest: string): Promise<void> {
  await page.getByLabel('Name of the show').fill('Slack Water');
  await page.getByRole('button', { name: 'Make the show' }).click();
  await page.getByLabel('Title').fill('Low tide');
  await page.getByRole('button', { name: 'Make the episode' }).click();
  const add = page.getByRole('form', { name: 'Add somebody' });
  await add.getByLabel('Full name').fill(guest);
  await add.getByRole('button', { name: 'Add', exact: true }).click();
}
