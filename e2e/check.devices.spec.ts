import { readFileSync } from 'node:fs';
import type { LineCheck } from '../src/core/linecheck/line-check';
import { addLine, chooseMySound, expect, test } from './devices-host';
import { makeEpisode } from './guests';
import { speech } from './signals';

const HEADPHONES_DB = -26;
const SENT_BACK_DB = -12;

test('over real devices: the microphone that hears the host, headphones that leak, and a far end that sends back what it is sent', async ({ machine }) => {
  test.setTimeout(180_000);
  const { sound, host, page } = machine;
  sound.addCable('blue', 'Blue cable');
  sound.addCable('green', 'Green cable');
  sound.addOutput('far', 'Far corner');
  sound.addInput('camera', 'far', 'Camera microphone');
  await makeEpisode(host, 'Measured devices', []);
  await chooseMySound(machine);
  const talking = sound.play('blue', speech(7, 30));
  expect(await addLine(machine, 'Anna', 'Blue cable (in)', 'Green cable')).toContain('Connected both ways');
  talking.stop();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await page.getByRole('link', { name: 'Check', exact: true }).click();

  // The host speaks: loud at their desk, from afar at the camera.
  const said = speech(3, 40);
  const words = [sound.play('mouth', said), sound.play('far', said.map((x) => 0.05 * x))];
  const own = page.getByRole('region', { name: 'My own sound' });
  await own.getByRole('button', { name: 'Find my microphone' }).click();
  await expect(own).toContainText('Desk microphone hears you best, and it is chosen.', { timeout: 30_000 });
  await expect(own.getByRole('listitem').filter({ hasText: 'Camera microphone' })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Maren/ }).first()).toContainText(/good|a little (quiet|hot)|too quiet/, { timeout: 30_000 });
  for (const one of words) one.stop();

  sound.leak('phones', 'mouth', HEADPHONES_DB);
  sound.leak('green', 'blue', SENT_BACK_DB);
  await own.getByRole('button', { name: 'Measure my own delay' }).click();
  await expect(own).toContainText(/[\d.]+ ms from phones to microphone/, { timeout: 30_000 });

  const panel = page.getByRole('region', { name: 'Line check', exact: true });
  await panel.getByRole('button', { name: /^Measure/ }).click();
  await expect(panel.getByRole('progressbar')).toBeVisible();
  await expect(panel.getByRole('button', { name: 'Measure again' })).toBeVisible({ timeout: 40_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'As JSON' }).click()]);
  const check = JSON.parse(readFileSync(await download.path(), 'utf8')) as LineCheck;
  const levels = Object.fromEntries(check.waysBack.map(({ from, to, gainDb }) => [`${from.split(':')[0]} ${check.names[to]}`, gainDb]));
  expect(Object.keys(levels).sort()).toEqual(['phones Maren', 'return Anna']);
  expect(Math.abs(levels['phones Maren'] - HEADPHONES_DB)).toBeLessThan(1);
  expect(Math.abs(levels['return Anna'] - SENT_BACK_DB)).toBeLessThan(1);
  await expect(page.getByRole('row', { name: /^Anna/ }).first()).toContainText(/loudspeakers −12/);
  await host.endCall();
});
