import { expect, test } from './host';
import { correlation, downloadAll, rmsDb, trackOf } from './take-files';

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
  // The browser's test microphone beeps; whatever Priya says meanwhile is something else.
  const [maren] = trackOf(files, 'Maren-Sollis_voice');
  expect(rmsDb(maren)).toBeGreaterThan(-60);
  expect(Math.abs(correlation(maren, trackOf(files, 'Priya-Nandakumar_voice')[0]))).toBeLessThan(0.05);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await page.getByRole('button', { name: 'Simulate it' }).click();
  await expect(host.lane('Maren')).toContainText('simulated voice');
  await host.endCall();
});
