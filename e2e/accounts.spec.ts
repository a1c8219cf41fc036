import { execFileSync } from 'node:child_process';
import { expect, test } from './host';
import { SecondServer } from './second-server';

const run = (script: string, words: string[], environment: Record<string, string> = {}) =>
  execFileSync(process.execPath, ['--import', 'tsx', script, ...words], { encoding: 'utf8', env: { ...process.env, ...environment } }).trim();

test.describe('outside the demo', () => {
  test.use({ tolerated: [/401|403|429/] });

  test('the first account needs the setup code; it makes a show, lets a colleague in and signs out everywhere', async ({ page, browser }) => {
    const database = run('scripts/new-database.ts', [process.env.BROWSER_DATABASE_URL!, 'accounts']);
    run('src/server/prepare.ts', [], { DATABASE_URL: database, DEMO: '0' });
    const server = await SecondServer.start({ DATABASE_URL: database, DEMO: '0', SETUP_CODE: 'north-pier-9' });
    try {
      await page.goto(server.address);
      await expect(page.getByRole('heading', { name: 'Welcome' })).toBeVisible();
      const fill = async (at: typeof page, name: string, email: string) => {
        await at.getByLabel('Your name').fill(name);
        await at.getByLabel('E-mail address').fill(email);
        await at.getByLabel('Password').fill('a long enough rope');
        await at.getByRole('button', { name: 'Make the account' }).click();
      };
      await page.getByLabel('Setup code').fill('south-pier-9');
      await fill(page, 'Sanna Oduya', 'sanna@ferry.example');
      await expect(page.getByRole('alert').first()).toHaveText('The setup code is wrong. It is printed where the product was started.');
      await page.getByLabel('Setup code').fill('north-pier-9');
      await page.getByRole('button', { name: 'Make the account' }).click();
      await expect(page.getByRole('heading', { name: 'Four steps to your first interview' })).toBeVisible();
      await page.getByLabel('Name of the show').fill('Slack Water');
      await page.getByRole('button', { name: 'Make the show' }).click();
      await page.getByLabel('Title').fill('Low tide');
      await page.getByRole('button', { name: 'Make the episode' }).click();
      // The guests are asked for at once, and can be left for later.
      await expect(page.getByRole('form', { name: 'Add somebody' })).toBeVisible();
      await page.getByRole('link', { name: 'Live', exact: true }).click();
      await expect(page.getByRole('article', { name: 'Sanna' })).toBeVisible();
      const episode = page.url();

      // The demo is opened beside it, and put away again.
      await page.goto(server.address);
      await page.getByRole('button', { name: 'Open the demo' }).click();
      await expect(page.getByRole('article', { name: 'Odalys' })).toBeVisible({ timeout: 20_000 });
      await page.goto(server.address);
      await page.getByRole('button', { name: 'Remove the demo Ferry Weather' }).click();
      await expect(page.getByRole('article', { name: 'The last chain ferry' })).toBeHidden();

      // A producer joins by a link, watches, and works nothing.
      await page.goto(server.address);
      await page.getByRole('link', { name: 'Settings of Slack Water' }).click();
      const members = page.getByRole('region', { name: 'Who works on Slack Water' });
      await members.getByRole('button', { name: 'Make a link for a colleague' }).click();
      const link = await members.getByLabel('Link for one colleague, seven days').inputValue();
      const context = await browser.newContext();
      const colleague = await context.newPage();
      await colleague.goto(link);
      await expect(colleague.getByRole('heading', { name: 'Join Slack Water' })).toBeVisible();
      await fill(colleague, 'Wen Talbot', 'wen@ferry.example');
      await colleague.getByRole('link', { name: 'Open the desk' }).click();
      await expect(colleague.getByRole('status', { name: 'This window' })).toContainText('As a producer you watch');
      await expect(colleague.getByRole('button', { name: 'Start call' })).toBeHidden();
      await colleague.goto(link);
      await expect(colleague.getByText('This link was used or has run out.')).toBeVisible();
      await context.close();

      // Signed out everywhere, no page of the show opens any more.
      await page.goto(server.address);
      await page.getByRole('button', { name: 'Sign out everywhere' }).click();
      await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
      await page.goto(episode);
      await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
      const signIn = async (password: string) => {
        await page.getByLabel('E-mail address').fill('sanna@ferry.example');
        await page.getByLabel('Password').fill(password);
        await page.getByRole('button', { name: 'Sign in' }).click();
      };
      await signIn('not the rope');
      await expect(page.getByRole('alert').first()).toHaveText('The e-mail address or the password is wrong.');
      await signIn('a long enough rope');
      await expect(page.getByRole('article', { name: 'Low tide' })).toBeVisible();
      // Guessing is slowed down for whoever guesses, also once they know the password; the browser that was here before stays welcome.
      const stranger = await browser.newContext();
      const tryAs = async (who: { request: typeof page.request }, password: string) =>
        (await who.request.post(`${server.address}/api/sign-in`, { headers: { origin: server.address }, data: { email: 'sanna@ferry.example', password } })).status();
      for (let tries = 0; tries < 12; tries++) await tryAs(stranger, 'guess');
      expect(await tryAs(stranger, 'a long enough rope')).toBe(429);
      expect(await tryAs(page, 'a long enough rope')).toBe(200);
      await stranger.close();
    } finally {
      await server.kill();
    }
  });
});
