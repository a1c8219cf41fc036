import { expect, test } from './host';
import { readTake } from './newest-take';
import { simulateSources } from './simulate';
import { downloadAll, rmsDb, trackOf } from './take-files';

// The page dies in the middle of everything, and the server is away before that.
test.use({ tolerated: [/ERR_FAILED/] });

test('a desk that crashes while the server is away loses nothing it had kept: all of it is in the take, in its place', async ({ host, page, context }) => {
  test.setTimeout(120_000);
  await host.openDesk();
  await host.startCall();
  await host.record();
  await host.untilRecorded(4);
  let away = true;
  await context.route('**/chunks/*', (route) => (away ? route.abort() : route.continue()));
  await expect(host.recording()).toContainText('kept on this computer');
  await host.untilRecorded(11);
  const kept = Number(/0:(\d\d) kept on this computer/.exec(await host.recording().innerText())![1]);
  const address = page.url();
  const devtools = await context.newCDPSession(page);
  // A page that crashes does not answer any more.
  void devtools.send('Page.crash').catch(() => undefined);
  await page.waitForEvent('crash');
  away = false;

  const again = await context.newPage();
  await again.goto(address);
  const watch = again.getByRole('region', { name: 'Watch' });
  await expect(watch).toContainText(/All that this computer kept of it, 0:\d\d from its beginning, is safe on the server now/, { timeout: 30_000 });
  await watch.getByRole('button', { name: /^Seal take/ }).click();
  await expect(again.getByRole('group', { name: 'Recording' })).toContainText(/Take \d+ is safe/, { timeout: 30_000 });

  const take = await readTake();
  expect(take.lengthSamples).toBeGreaterThanOrEqual(kept * 48000);
  await again.getByRole('link', { name: 'Takes', exact: true }).click();
  await again.getByRole('main').getByRole('link', { name: /^Take \d+/ }).first().click();
  await expect(again.getByText(/hold silence because/)).toHaveCount(0);
  const files = await downloadAll(again);
  const sent = simulateSources({ ...take, bellAt: -1, bellLevelDb: 0 });
  for (const [source, name] of Object.entries({ 'voice:odalys': 'Odalys-Brandt', 'voice:priya': 'Priya-Nandakumar', 'voice:tomasz': 'Tomasz-Wierzba' })) {
    const [track] = trackOf(files, `${name}_voice`);
    const [truth] = sent.get(source)!;
    expect(track.length).toBe(take.lengthSamples);
    expect(rmsDb(track.map((sample, i) => sample - truth[i])), `${name}’s track is what the line sent, to its last sample`).toBeLessThan(-100);
  }
  // Nothing of it is left here: another look at the desk has nothing to say of it.
  expect(await again.evaluate(async () => {
    const takes = await (await navigator.storage.getDirectory()).getDirectoryHandle('takes');
    const names: string[] = [];
    for await (const name of (takes as unknown as { keys(): AsyncIterable<string> }).keys()) names.push(name);
    return names;
  })).toEqual([]);
  await again.getByRole('link', { name: 'Live', exact: true }).click();
  await again.getByRole('button', { name: 'End call' }).click();
  await expect(again.getByRole('button', { name: 'Start call' })).toBeVisible();
});
