import { VoiceStrip } from '../src/core/dsp/voice-strip';
import { expect, test } from './host';
import { downloadAll, rmsDb, trackOf } from './take-files';

test('a voice is processed for the mixes: its track stays as it came in, and a second one is what the mixes got', async ({ host, page }) => {
  await host.openDesk();
  await page.getByRole('link', { name: 'Hearing', exact: true }).click();
  await page.getByRole('rowheader', { name: /^Odalys/ }).getByRole('button').click();
  const done = page.getByRole('group', { name: 'What is done to Odalys’s voice' });
  await done.getByText('cut the rumble').click();
  await done.getByText('hold loud words down').click();
  await expect(done.getByRole('checkbox', { name: 'hold loud words down' })).toBeChecked();
  await host.openSettings();
  await page.getByText('Record voices as they go into the mixes too').click();
  await expect(page.getByRole('list', { name: 'Tracks of the next take' })).toContainText('Odalys Brandt, processed');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await host.record();
  await host.untilRecorded(9);
  await host.stop();
  await host.endCall();

  await host.openNewestTake();
  await expect(page.getByRole('article', { name: 'Odalys Brandt, voice, as mixed' })).toBeVisible();
  const files = await downloadAll(page);
  const [[voice], [processed]] = ['Odalys-Brandt_voice', 'Odalys-Brandt_processed'].map((name) => trackOf(files, name));
  expect(processed.length).toBe(voice.length);
  const strip = new VoiceStrip();
  strip.set({ lowCut: true, evenOut: true });
  const expected = new Float32Array(voice.length);
  strip.process(voice, voice, expected, new Float32Array(voice.length), voice.length);
  // The desk's strip had heard what came before the take; a second later that is forgotten.
  const later = (samples: Float32Array) => samples.subarray(48_000);
  expect(rmsDb(later(expected).map((sample, i) => sample - later(processed)[i]))).toBeLessThan(-90);
  expect(rmsDb(later(voice)) - rmsDb(later(processed))).toBeGreaterThan(0.5);

  await page.getByRole('link', { name: 'Hearing', exact: true }).click();
  await page.getByRole('rowheader', { name: /^Odalys/ }).getByRole('button').click();
  await done.getByText('cut the rumble').click();
  const kept = page.waitForResponse((response) => response.url().endsWith('/plan') && response.ok());
  await done.getByText('hold loud words down').click();
  await kept;
});
