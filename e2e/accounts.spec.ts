import { makeAccount, makeFirstEpisode, run, untouchedDatabase } from './first-run';
import { expect, test } from './host';
import { SecondServer } from './second-server';

test.describe('outside the demo', () => {
  test.use({ tolerated: [/401|403|429/] });

  test('the first account needs the setup code; it makes a show, lets a colleague in and signs out everywhere', async ({ page, browser }) => {
    const database = untouchedDatabase('accounts');
    const server = await SecondServer.start({ DATABASE_URL: database, DEMO: '0', SETUP_CODE: 'north-pier-9' });
    try {
      await page.goto(server.address);
      await expect(page.getByRole('heading', { name: 'Welcome' })).toBeVisible();
      await page.getByLabel('Setup code').fill('south-pier-9');
      await makeAccount(page, 'Sanna Oduya', 'sanna@ferry.example');
      await expect(page.getByRole('alert').first()).toHaveText('The setup code is wrong. It is printed where the product was started.');
      await page.getByLabel('Setup code').fill('north-pier-9');
      await page.getByRole('button', { name: 'Make the account' }).click();
      await expect(page.getByRole('heading', { name: 'Five steps to your first interview' })).toBeVisible();
      // The guests are asked for at once, and can be left for later.
      await makeFirstEpisode(page, 'Ebbe Lund');
      await expect(page.getByRole('main')).toContainText('Ebbe');
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
      await makeAccount(colleague, 'Wen Talbot', 'wen@ferry.example');
      await colleague.getByRole('link', { name: 'Open the desk' }).click();
      await expect(colleague.getByRole('status', { name: 'This window' })).toContainText('As a producer you watch');
      await expect(colleague.getByRole('button', { name: 'Start call' })).toBeHidden();
      await colleague.goto(link);
      await expect(colleague.getByText('This link was used or has run out.')).toBeVisible();

      // The producer is made a host, and deletes the account again.
      await page.reload();
      await members.getByLabel('Role of Wen Talbot').selectOption('host');
      await expect(members.getByLabel('Role of Wen Talbot')).toHaveValue('host');
      await colleague.goto(episode);
      await expect(colleague.getByRole('button', { name: 'Start call' })).toBeVisible();
      await colleague.goto(`${server.address}/account`);
      await colleague.getByRole('button', { name: 'Delete my account …' }).click();
      await colleague.getByLabel('Your password, to delete the account').fill('a long enough rope');
      await colleague.getByRole('button', { name: 'Delete my account', exact: true }).click();
      await expect(colleague.getByRole('heading', { name: 'Sign in' })).toBeVisible();
      await page.reload();
      await expect(members).not.toContainText('Wen Talbot');
      await context.close();

      // Everything of a guest is erased; what the answer is known by stands in the log as well.
      const guests = page.getByRole('region', { name: 'Guests of Slack Water' });
      await guests.getByRole('button', { name: 'Erase everything of Ebbe Lund …' }).click();
      await guests.getByRole('button', { name: 'Erase everything of Ebbe Lund', exact: true }).click();
      await expect(guests.getByRole('alert')).toContainText('Ebbe Lund was erased: 0 tracks and 0 mixes in 0 takes.');
      await expect(guests.getByRole('listitem')).toHaveCount(0);
      expect((await page.request.get(`${server.address}/api/health`)).headers()['x-request-id']).toMatch(/^[0-9a-f]{12}$/);

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

      // Another password, the browsers that are signed in, and a link for whoever forgot it.
      await page.getByRole('link', { name: 'Sanna Oduya' }).click();
      await expect(page.getByRole('region', { name: 'Where you are signed in' }).getByRole('listitem')).toHaveCount(1);
      await expect(page.getByRole('region', { name: 'Where you are signed in' })).toContainText(/on Linux \(this one\)/);
      await page.getByLabel('The one you have now').fill('not the rope');
      await page.getByLabel('New password').fill('a longer rope than that');
      await page.getByRole('button', { name: 'Change it' }).click();
      await expect(page.getByRole('alert').first()).toHaveText('The password you have now is another one. Nothing was changed.');
      await page.getByLabel('The one you have now').fill('a long enough rope');
      await page.getByRole('button', { name: 'Change it' }).click();
      await expect(page.getByRole('status')).toHaveText('It is changed. Every other browser was signed out.');
      const said = run('scripts/reset-password.ts', ['sanna@ferry.example'], { DATABASE_URL: database, PUBLIC_URL: server.address });
      await page.goto(/https?:\S+\/reset\/\S+/.exec(said)![0]);
      await page.getByLabel('New password').fill('rope from the boathouse');
      await page.getByRole('button', { name: 'Set it' }).click();
      await expect(page.getByRole('article', { name: 'Low tide' })).toBeVisible();

      // What was done can be read, and the show goes when its owner says so twice.
      await page.getByRole('link', { name: 'Settings of Slack Water' }).click();
      await expect(page.getByRole('region', { name: 'What was done' })).toContainText('Sanna Oduya made a link for a colleague as producer');
      await page.getByRole('button', { name: 'Remove Slack Water …' }).click();
      await page.getByRole('button', { name: 'Yes, remove Slack Water' }).click();
      await expect(page.getByRole('article', { name: 'Low tide' })).toBeHidden();
      // Guessing is slowed down for whoever guesses, also once they know the password; the browser that was here before stays welcome.
      const stranger = await browser.newContext();
      const tryAs = async (who: { request: typeof page.request }, password: string) =>
        (await who.request.post(`${server.address}/api/sign-in`, { headers: { origin: server.address }, data: { email: 'sanna@ferry.example', password } })).status();
      for (let tries = 0; tries < 12; tries++) await tryAs(stranger, 'guess');
      expect(await tryAs(stranger, 'rope from the boathouse')).toBe(429);
      expect(await tryAs(page, 'rope from the boathouse')).toBe(200);
      await stranger.close();
    } finally {
      await server.kill();
    }
  });
});
