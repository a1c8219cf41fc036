import { expect, test } from './host';
import { giveTones, Guest, makeEpisode, makeLink } from './guests';
import { downloadAll, trackOf } from './take-files';
import { bestToneDb } from './tones';

const [HOST_HZ, RUNA_HZ, TIDE_HZ] = [310, 523, 787];
const AMPLITUDE = 0.04;
const TONE_DB = -28;

test('another voice for the host cuts nobody off, and somebody added while a take runs is on it from there on', async ({ host, page, browser }) => {
  await giveTones(page, [HOST_HZ], AMPLITUDE);
  const [link] = await makeEpisode(host, 'The late ferry', ['Runa Velde']);
  await host.startCall();
  const runa = await Guest.open(browser, 'Runa', link, RUNA_HZ, AMPLITUDE);
  await runa.arrive();
  // Who waits hears nobody and is heard by nobody: the grid says so, and what is set for later.
  await page.getByRole('link', { name: 'Hearing' }).click();
  await expect(page.getByRole('gridcell', { name: 'Runa in the program: waiting, set to 0 dB' })).toBeVisible();
  await page.getByRole('gridcell', { name: 'Maren in Runa’s return: waiting, set to 0 dB' }).click();
  await expect(page.getByRole('region', { name: 'In words' })).toContainText('Maren is not heard in Runa’s return now: Runa is waiting to be let in.');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();
  await host.record();
  await host.untilRecorded(2);

  // The host's voice comes from elsewhere now, and back: Runa's line does not notice.
  await page.getByRole('button', { name: 'Simulate it' }).click();
  await expect(page.getByText('Your voice is simulated')).toBeVisible();
  await host.untilRecorded(4);
  await page.getByRole('button', { name: 'Try my microphone' }).click();
  await expect(page.getByText('Your voice comes from')).toBeVisible();
  await expect(host.lane('Runa')).toContainText(/live/);

  // Somebody comes whom nobody had planned.
  await page.getByRole('link', { name: 'Prepare' }).click();
  await page.getByRole('button', { name: 'Add somebody', exact: true }).click();
  const person = page.getByRole('form', { name: 'Add somebody' });
  await person.getByLabel('Full name').fill('Tide Marlow');
  await person.getByRole('button', { name: 'Add', exact: true }).click();
  const late = await makeLink(host, 'Tide Marlow');
  await expect(host.recording()).toContainText('6 tracks');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  const tide = await Guest.open(browser, 'Tide', late, TIDE_HZ, AMPLITUDE);
  await tide.arrive();
  await host.lane('Tide').getByRole('button', { name: 'Bring Tide up' }).click();
  await expect(tide.where()).toContainText('Recording', { timeout: 60_000 });
  const from = await host.recordedSeconds();
  await host.untilRecorded(from + 6);
  await host.stop();
  await host.openNewestTake();
  const gaps = page.getByRole('region', { name: 'Gaps' });
  await expect(gaps).toContainText(/Tide Marlow: not in the call, 0:00 to 0:\d\d/);
  await expect(gaps).not.toContainText('Runa Velde: the connection was lost');

  const files = await downloadAll(page);
  const [voice] = trackOf(files, 'Tide-Marlow_voice');
  const [other] = trackOf(files, 'Runa-Velde_voice');
  expect(voice.length).toBe(other.length);
  const end = (samples: Float32Array) => samples.subarray(samples.length - 4 * 48000, samples.length - 48000 / 2);
  expect(Math.abs(bestToneDb(end(voice), TIDE_HZ) - TONE_DB)).toBeLessThan(2);
  expect(voice.subarray(0, 2 * 48000).every((sample) => sample === 0)).toBe(true);
  // In no second of it was Runa away.
  for (let at = 48000; at + 48000 < other.length; at += 48000) expect(bestToneDb(other.subarray(at, at + 48000), RUNA_HZ), `Runa at ${at / 48000} s`).toBeGreaterThan(TONE_DB - 6);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.endCall();
  await Promise.all([runa.close(), tide.close()]);
});
