import { expect, test } from './host';
import { downloadAll, rmsDb, trackOf } from './take-files';

test('with a microphone the host’s lane and track carry it, and only they', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  await expect(host.lane('Maren')).toContainText(/Fake/);
  await expect(page.getByText(/Your voice comes from Fake/)).toBeVisible();
  await host.record();
  await host.untilRecorded(4);
  await host.stop();
  await host.openNewestTake();
  const files = await downloadAll(page);
  // The browser's test microphone beeps; nobody else has said anything in these first seconds.
  expect(rmsDb(trackOf(files, 'Maren-Sollis_voice')[0])).toBeGreaterThan(-60);
  expect(rmsDb(trackOf(files, 'Priya-Nandakumar_voice')[0])).toBe(-Infinity);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await page.getByRole('button', { name: 'Simulate it' }).click();
  await expect(host.lane('Maren')).toContainText('simulated voice');
  await host.endCall();
});
