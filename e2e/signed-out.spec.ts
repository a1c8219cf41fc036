import { makeAccount, untouchedDatabase } from './first-run';
import { expect, test } from './host';
import { newestFaults } from './newest-take';
import { SecondServer } from './second-server';

test.describe('a host who was signed out elsewhere', () => {
  test.use({ tolerated: [/401/] });

  test('hears of it within seconds, signs in at the desk, and the take is whole', async ({ page, host, browser }) => {
    const database = untouchedDatabase('signed_out');
    const server = await SecondServer.start({ DATABASE_URL: database, DEMO: '0', SETUP_CODE: 'north-pier-9' });
    try {
      await page.goto(server.address);
      await page.getByLabel('Setup code').fill('north-pier-9');
      await makeAccount(page, 'Sanna Oduya', 'sanna@ferry.example');
      await page.getByLabel('Name of the show').fill('Slack Water');
      await page.getByRole('button', { name: 'Make the show' }).click();
      await page.getByLabel('Title').fill('Low tide');
      await page.getByRole('button', { name: 'Make the episode' }).click();
      await page.getByRole('link', { name: 'Live', exact: true }).click();
      await host.startCall();
      await host.record();
      await host.untilRecorded(3);

      const elsewhere = await browser.newContext();
      const headers = { origin: server.address };
      await elsewhere.request.post(`${server.address}/api/sign-in`, { headers, data: { email: 'sanna@ferry.example', password: 'a long enough rope' } });
      await elsewhere.request.delete(`${server.address}/api/sign-in`, { headers, data: { everywhere: true } });
      await elsewhere.close();
      const dialog = page.getByRole('alertdialog', { name: 'Sign in again' });
      await expect(dialog).toContainText('what comes is kept on this computer', { timeout: 10_000 });
      // Nothing stops meanwhile.
      const before = await host.recordedSeconds();
      await host.untilRecorded(before + 4);
      await dialog.getByLabel('E-mail').fill('sanna@ferry.example');
      await dialog.getByLabel('Password').fill('not the rope');
      await dialog.getByRole('button', { name: 'Sign in and go on' }).click();
      await expect(dialog.getByRole('alert')).toHaveText('The e-mail address or the password is wrong.');
      await dialog.getByLabel('Password').fill('a long enough rope');
      await dialog.getByRole('button', { name: 'Sign in and go on' }).click();
      await expect(dialog).toBeHidden();
      await expect(host.recording()).toContainText(/\d safe on the server/);
      const seconds = await host.recordedSeconds();
      await host.stop();
      await host.openNewestTake();
      const [, length] = /tracks of 0:(\d\d)/.exec(await page.getByText(/tracks of 0:\d\d/).innerText())!;
      expect(Number(length)).toBeGreaterThanOrEqual(seconds);
      expect(await newestFaults(database)).toEqual([]);
    } finally {
      await server.kill();
    }
  });
});
