import type { BrowserContext, Page } from '@playwright/test';
import { expect, test } from './host';
import { newestFaults, readTake } from './newest-take';
import { simulateSources } from './simulate';
import { downloadAll, rmsDb, trackOf } from './take-files';

// The page dies in the middle of everything, and the server is away before that.
test.use({ tolerated: [/ERR_FAILED/] });

/** Kills a page in the middle of everything, and opens the desk anew. */
async function crashAndOpenAgain(page: Page, context: BrowserContext): Promise<Page> {
  const address = page.url();
  const devtools = await context.newCDPSession(page);
  // A page that crashes does not answer any more.
  void devtools.send('Page.crash').catch(() => undefined);
  await page.waitForEvent('crash');
  const again = await context.newPage();
  await again.goto(address);
  // A request that nobody answers is given up after twenty seconds, and sent again.
  await expect(again.getByRole('region', { name: 'Watch' })).toContainText(/This computer kept it, 0:\d\d from its beginning/, { timeout: 60_000 });
  return again;
}

test('a desk that crashes while the server is away loses nothing it had kept; the take goes on, crashes again, and is sealed', async ({ host, page, context }) => {
  await host.openDesk();
  await host.startCall();
  await host.record();
  await host.untilRecorded(4);
  let away = true;
  await context.route(/\/(chunks|plan|markers)$/, (route) => (away ? route.abort() : route.continue()));
  // He does not hear himself: what he sends, and what comes back of the others, stays as it was.
  const gainOf = (on: Page) => on.getByRole('slider', { name: 'Gain of Tomasz' });
  const gain = Number(await gainOf(page).getAttribute('aria-valuenow'));
  await gainOf(page).press('ArrowLeft');
  await page.getByRole('button', { name: 'Mark', exact: true }).click();
  await expect(host.recording()).toContainText('kept on this computer');
  await host.untilRecorded(11);
  const kept = Number(/0:(\d\d) kept on this computer/.exec(await host.recording().innerText())![1]);
  away = false;
  const second = await crashAndOpenAgain(page, context);
  const watch = second.getByRole('region', { name: 'Watch' });
  await expect(second.getByRole('button', { name: 'End call' })).toBeVisible();
  await expect(watch).toContainText('What was changed here last had not reached the server. This browser kept it, and it is in force again: Tomasz: gain');
  expect(Number(await gainOf(second).getAttribute('aria-valuenow'))).toBeLessThan(gain);
  await watch.getByRole('button', { name: /^Go on with take/ }).click();
  const recording = second.getByRole('group', { name: 'Recording' });
  const clock = async () => Number(/00:(\d\d):(\d\d)/.exec(await recording.getByRole('status').innerText())?.slice(1).reduce((sum, two) => sum * 60 + Number(two), 0) ?? 0);
  // The time without a desk is part of the take: its clock goes on behind it.
  await expect.poll(clock, { timeout: 30_000 }).toBeGreaterThan(kept);
  const wentOnAt = await clock();
  await expect.poll(clock, { timeout: 30_000 }).toBeGreaterThanOrEqual(wentOnAt + 4);

  const again = await crashAndOpenAgain(second, context);
  await again.getByRole('region', { name: 'Watch' }).getByRole('button', { name: /^Seal take/ }).click();
  await expect(again.getByRole('group', { name: 'Recording' })).toContainText(/Take \d+ is safe/, { timeout: 30_000 });

  const take = await readTake();
  expect(take.lengthSamples).toBeGreaterThanOrEqual((wentOnAt + 3) * 48000);
  const gaps = await newestFaults();
  const without = gaps.find(({ cause }) => cause === 'desk-away')!;
  expect(gaps.filter(({ cause, atSample, lengthSamples }) => cause !== 'desk-away' || atSample !== without.atSample || lengthSamples !== without.lengthSamples)).toEqual([]);
  expect(without.atSample).toBeGreaterThanOrEqual(kept * 48000);
  await again.getByRole('link', { name: 'Takes', exact: true }).click();
  await again.getByRole('main').getByRole('link', { name: /^Take \d+/ }).first().click();
  await expect(again.getByRole('region', { name: 'Markers' })).toContainText('Mark 1');
  await expect(again.getByRole('region', { name: 'Gaps' })).toContainText('Maren Sollis: the desk was closed');
  const files = await downloadAll(again);
  const sent = simulateSources({ ...take, bellAt: -1, bellLevelDb: 0 });
  const end = without.atSample + without.lengthSamples;
  for (const [source, name] of Object.entries({ 'voice:odalys': 'Odalys-Brandt', 'voice:priya': 'Priya-Nandakumar', 'voice:tomasz': 'Tomasz-Wierzba' })) {
    const [track] = trackOf(files, `${name}_voice`);
    const [truth] = sent.get(source)!;
    expect(track.length).toBe(take.lengthSamples);
    const before = track.subarray(0, without.atSample);
    expect(rmsDb(before.map((sample, i) => sample - truth[i])), `${name}’s track is what the line sent, to its last sample`).toBeLessThan(-100);
    expect(track.subarray(without.atSample, end).every((sample) => sample === 0)).toBe(true);
  }
  const later = files.filter(({ name }) => name.includes('_voice')).map(({ channels: [track] }) => rmsDb(track.subarray(end)));
  expect(Math.max(...later), 'somebody is heard after the gap').toBeGreaterThan(-60);
  // Nothing of it is left here: another look at the desk has nothing to say of it.
  expect(await again.evaluate(async () => {
    const takes = await (await navigator.storage.getDirectory()).getDirectoryHandle('takes');
    const names: string[] = [];
    for await (const name of (takes as unknown as { keys(): AsyncIterable<string> }).keys()) names.push(name);
    return names;
  })).toEqual([]);
  await again.getByRole('link', { name: 'Live', exact: true }).click();
  await gainOf(again).press('ArrowRight');
  await expect(gainOf(again)).toHaveAttribute('aria-valuenow', String(gain));
  await again.getByRole('button', { name: 'End call' }).click();
  await expect(again.getByRole('button', { name: 'Start call' })).toBeVisible();
});
