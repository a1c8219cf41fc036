import { expect, test } from './host';
import { newestPlanChanges } from './newest-take';
import { downloadAll, rmsDb, trackOf } from './take-files';

const SECOND = 48000;

/** The longest stretch of nothing at all, s. */
function silentFor(samples: Float32Array): number {
  let [now, longest] = [0, 0];
  for (const sample of samples) {
    now = sample === 0 ? now + 1 : 0;
    longest = Math.max(longest, now);
  }
  return longest / SECOND;
}

test('a lamp darkened in the grid and a fix of the audit are heard in the returns, in the running call', async ({ host, page }) => {
  await host.openDesk();
  await host.recordMixes();
  // The bed stays where its lamp puts it, whoever speaks.
  await page.getByRole('link', { name: 'Sounds', exact: true }).click();
  await page.getByRole('region', { name: 'Under the voices' }).getByRole('button', { name: 'Goes under', exact: true }).click();
  await host.startCall();
  await page.getByRole('link', { name: 'Hearing', exact: true }).click();
  await page.keyboard.press('3');
  await host.record();
  await host.untilRecorded(2);
  const lamp = page.getByRole('gridcell', { name: /^Bed in Odalys’s return/ });
  await lamp.focus();
  await page.keyboard.press(' ');
  await expect(lamp).toHaveAccessibleName(/closed/);
  await page.getByRole('button', { name: 'Tomasz has headphones on now' }).click();
  await host.untilRecorded((await host.recordedSeconds()) + 6);
  await host.stop();
  const changedAt = (await newestPlanChanges()).at(-1)!;
  for (let k = 0; k < 3; k++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(lamp).toHaveAccessibleName('Bed in Odalys’s return: −6 dB, changed by hand');
  await host.openNewestTake();
  const files = await downloadAll(page);
  const [bed] = trackOf(files, '_Bed_sounds');
  const [tomasz] = trackOf(files, 'Tomasz-Wierzba_voice');
  const voices = ['Maren-Sollis_voice', 'Tomasz-Wierzba_voice', 'Priya-Nandakumar_voice'].map((name) => trackOf(files, name)[0]);
  const bedHeard = trackOf(files, 'Odalys-Brandt_return')[0].map((sample, i) => sample - voices.reduce((sum, track) => sum + track[i], 0));
  const first = (samples: Float32Array) => samples.subarray(SECOND / 2, 1.5 * SECOND);
  // Behind the last echo that was under way.
  const last = (samples: Float32Array) => samples.subarray(changedAt + 0.6 * SECOND);

  expect(rmsDb(first(bedHeard)) - rmsDb(first(bed)), 'the bed in Odalys’s return, lit at −6 dB').toBeCloseTo(-6, 1);
  expect(rmsDb(last(bed)), 'the bed still plays').toBeGreaterThan(-60);
  expect(rmsDb(last(bedHeard)), 'and is not in Odalys’s return any more').toBeLessThan(-120);
  // The bed plays all the time: while it comes back by his loudspeakers, Tomasz’s track is never silent, whether he speaks or not.
  expect(silentFor(first(tomasz)), 'the echo before the fix').toBeLessThan(0.005);
  expect(silentFor(last(tomasz)), 'and between his words after it').toBeGreaterThan(0.05);
  await host.endCall();
});
