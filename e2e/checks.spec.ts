import { execFileSync } from 'node:child_process';
import { expect, test } from './host';
import { rmsDb, downloadAll } from './take-files';

test('a take is paused, one track is left out with a reason, it is checked, repaired, named and exported', async ({ host, page }) => {
  await host.openDesk();
  await host.openSettings();
  const recorded = page.getByRole('region', { name: 'Tracks of the next take' });
  await recorded.getByRole('button', { name: 'Leave out Sounds, sounds' }).click();
  await recorded.getByLabel('Why Sounds, sounds is left out').fill('rights not cleared');
  await recorded.getByRole('button', { name: 'Leave it out' }).click();
  await expect(recorded).toContainText('not recorded: rights not cleared');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await host.record();
  await expect(host.recording()).toContainText('1 left out');
  await host.untilRecorded(7);
  await host.recording().getByRole('button', { name: 'Pause recording' }).click();
  await expect(host.recording()).toContainText('paused');
  const before = await host.recordedSeconds();
  // What is said now is on no track: the call goes on and the recording's clock stands. How long it was is counted in samples,
  // which a machine that stands still has less of.
  await expect(host.lane('Maren').or(host.lane('Odalys')).first()).toBeVisible();
  await page.waitForFunction((until) => performance.now() > until, (await page.evaluate(() => performance.now())) + 3000);
  // What was captured just before may still be on its way to the clock.
  expect((await host.recordedSeconds()) - before).toBeLessThanOrEqual(1);
  await host.recording().getByRole('button', { name: 'Go on recording' }).click();
  await page.keyboard.press('k');
  await host.untilRecorded(15);
  await host.stop();
  await host.endCall();

  await host.openNewestTake();
  await expect(page.getByText('Left out of this take: Sounds (rights not cleared)')).toBeVisible();
  const happened = page.getByRole('group', { name: 'What happened' });
  await expect(happened.getByRole('button', { name: /Recording was paused for 0:0[1-9]/ })).toBeVisible();
  await expect(happened.getByRole('button', { name: /^Marker:/ })).toBeVisible();

  // Tomasz sits before loudspeakers: the check finds whoever spoke in these few seconds, and leads to the place.
  const checks = page.getByRole('region', { name: 'Checks' });
  await expect(checks.getByRole('button', { name: 'Check again' })).toHaveAttribute('aria-disabled', 'false', { timeout: 90_000 });
  await expect(checks).toContainText(/Tomasz Wierzba’s track contains (Maren|Odalys|Priya) .* \d\d dB down, 2\d\d ms late/);
  await checks.getByRole('button', { name: /^Go to .*Tomasz Wierzba’s track contains/ }).click();
  // Every finding about the track offers it.
  await checks.getByRole('button', { name: 'Repair Tomasz Wierzba’s track' }).first().click();
  await expect(page.getByRole('article', { name: 'Tomasz Wierzba, repaired voice' })).toBeVisible({ timeout: 90_000 });
  await expect(checks.getByText(/(Maren|Odalys|Priya) from −\d\d dB to (−\d\d dB|nothing found)/)).toBeVisible();
  await page.getByRole('button', { name: 'Hear this alone' }).click();
  await expect(page.getByRole('button', { name: 'Hear the original' })).toBeVisible();

  await page.keyboard.press('+');
  await page.keyboard.press('+');
  await expect(page.getByRole('button', { name: 'Whole take' })).toBeVisible();
  await page.getByLabel('Name of this take').fill('The good one');
  await page.getByLabel('Note to this take').fill('begin at the marker');
  await expect(page.getByText('The name is kept.')).toBeVisible();

  const away = page.getByRole('region', { name: 'Export' });
  await away.getByLabel('What to export').selectOption('mix');
  await away.getByLabel('Kind of file').selectOption('flac');
  await away.getByLabel('Loudness').selectOption('as-is');
  await away.getByRole('button', { name: 'Listen to both ends first' }).click();
  const last = away.getByRole('button', { name: 'Play the last 10 seconds of the mix' });
  await last.click({ timeout: 60_000 });
  await expect(last).toHaveAttribute('aria-pressed', 'true');
  // Ten seconds of sound play, and then it ends by itself.
  await expect(last).toHaveAttribute('aria-pressed', 'false', { timeout: 30_000 });
  await away.getByRole('button', { name: 'Export', exact: true }).click();
  const link = away.getByRole('link', { name: /^Download .*_mix\.flac$/ });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const [mix] = await Promise.all([page.waitForEvent('download'), link.click()]);
  execFileSync('flac', ['-t', '-s', await mix.path()]);
  const files = await downloadAll(page);
  const voices = files.filter(({ name }) => /(Maren|Odalys|Priya).*_voice/.test(name)).map(({ channels: [voice] }) => rmsDb(voice));
  expect(Math.max(...voices), 'the loudest voice').toBeGreaterThan(-60);

  await page.getByRole('button', { name: 'Put into the bin' }).click();
  await expect(page.getByText('It is in the bin for 30 days, then gone.')).toBeVisible();
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await page.getByText(/^In the bin: \d+/).click();
  await page.getByRole('link', { name: /The good one/ }).click();
  await page.getByRole('button', { name: 'Bring it back', exact: true }).click();
  await expect(page.getByText('It is back.')).toBeVisible();
});
