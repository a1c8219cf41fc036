import { expect, test } from './host';
import { giveSpeech, Guest, makeEpisode } from './guests';
import { readFileSync, writeFileSync } from 'node:fs';
import { correlation, downloadAll, downloadZip, trackOf, tracksIn } from './take-files';

const RATE = 48000;

test('a guest’s own browser records without loss, goes on after a reload, and the take has it in step with the line', async ({ host, page, browser }) => {
  const [link] = await makeEpisode(host, 'The winch house', ['Sanna Lund']);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const far = await context.newPage();
  await giveSpeech(far);
  await far.goto(link);
  const guest = new Guest(far, 'Sanna', link);
  await host.startCall();
  await guest.arrive();
  await host.lane('Sanna').getByRole('button', { name: 'Bring Sanna up' }).click();
  await guest.isIn();
  await host.record();
  const home = far.getByRole('status', { name: 'Recorded at your end' });
  await expect(home).toContainText(/Your microphone is recorded here too: 0:0[1-9]/);
  const both = await host.recordedSeconds();
  await host.untilRecorded(both + 6);
  const reloaded = await host.recordedSeconds();
  // What was recorded before is not lost with the page; it is sent from its disk, and a second part follows.
  await far.reload();
  await guest.isIn();
  await expect(home).toContainText('Your microphone is recorded here too');
  const back = await host.recordedSeconds();
  await host.untilRecorded(back + 10);
  await host.stop();
  // While it goes on, the recording gives way to the conversation, and on a busy machine for long.
  await host.endCall();
  await expect(home).toContainText('Everything that was recorded at your end has arrived', { timeout: 60_000 });

  await host.openNewestTake();
  const homes = page.getByRole('region', { name: 'Recorded at home' });
  await expect(homes.getByText(/^All 0:\d\d are here/)).toBeVisible({ timeout: 30_000 });
  await expect(homes.getByText(/^Placed; the clock there runs/)).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole('article', { name: 'Sanna Lund, home track' })).toBeVisible();
  const zip = await downloadZip(page);
  const files = tracksIn(zip);
  const [line, placed, best] = ['voice', 'home', 'best'].map((kind) => trackOf(files, `Sanna-Lund_${kind}`)[0]);
  expect([placed.length, best.length]).toEqual([line.length, line.length]);
  // Around the reload home has nothing, and the best of both has the line's silence there; elsewhere it is the home track.
  // A busy machine makes a bad line now and then: the best of some stretches of each part counts. Coding alone makes noise half
  // unlike itself; speech that is not in step is less than 0.1 alike.
  const stretch = (samples: Float32Array, at: number) => samples.subarray(Math.round(at * RATE), Math.round(at * RATE) + RATE / 4);
  for (const [from, to] of [[both, reloaded], [back, placed.length / RATE - 1]]) {
    const seen: string[] = [];
    let isHome = false;
    for (let at = from + 0.5; at < to - 0.5 && !isHome; at += 0.4) {
      const alike = Math.max(...shifted(stretch(line, at), placed, Math.round(at * RATE)));
      // A part may begin or end within a stretch: there the line goes on in the best of both.
      const taken = Buffer.from(stretch(best, at).slice().buffer).equals(Buffer.from(stretch(placed, at).slice().buffer));
      isHome = alike > 0.35 && taken;
      seen.push(`${at.toFixed(1)} s: ${alike.toFixed(2)}${taken ? '' : ', of the line'}`);
    }
    expect(isHome, `likeness of line and home from ${from} to ${to} s: ${seen.join('; ')}`).toBe(true);
  }
  await context.close();

  // What was packed up is taken in again, as another installation would: every track to the bit, gaps and consent with it.
  const gaps = await page.getByRole('region', { name: 'Gaps' }).innerText();
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await page.getByLabel('The ZIP of a take').setInputFiles(zip);
  await expect(page.getByRole('status').filter({ hasText: 'take.zip is take 2 here.' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('link', { name: /^Take 2/ })).toBeVisible();
  await host.openNewestTake();
  await expect(page.getByRole('heading', { name: /^Take 2/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Gaps' })).toHaveText(gaps, { useInnerText: true });
  await expect(page.getByText('One guest agreed to be recorded: Sanna Lund')).toBeVisible();
  const again = await downloadAll(page);
  expect(again.map(({ name }) => name)).toEqual(files.map(({ name }) => name.replace('take-1', 'take-2')));
  expect(again.every(({ channels }, k) => channels.every((samples, c) => Buffer.from(samples.buffer).equals(Buffer.from(files[k].channels[c].buffer))))).toBe(true);
  // One that is damaged is said to be, and does not stand among the others.
  const damaged = readFileSync(zip);
  damaged[Math.floor(damaged.length / 3)] ^= 0x40;
  writeFileSync(zip, damaged);
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await page.getByLabel('The ZIP of a take').setInputFiles(zip);
  await expect(page.getByRole('alert').filter({ hasText: /take\.zip was not taken in\. “.*” is damaged in this ZIP/ })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('In the bin: 1')).toBeVisible();
});

/** Likeness of a stretch of the line and the home track beside it: a line's buffer moves, so the two are in step within some tenths of a second only. */
function shifted(pattern: Float32Array, sound: Float32Array, at: number): number[] {
  return Array.from({ length: 4801 }, (_, k) => 6 * (k - 2400)).map((shift) => correlation(pattern, sound.subarray(at + shift, at + shift + pattern.length)));
}
