import type { Page } from '@playwright/test';
import { giveSpeech } from './guests';
import { expect, test, type Host } from './host';
import { newestFaults } from './newest-take';
import { Radio } from './radio-listener';
import { downloadAll, rmsDb, trackOf } from './take-files';

const RATE = 48_000;
const WINDOW = RATE / 10;
/** Levels of pieces of a tenth of a second, dB. */
const levels = (samples: Float32Array): number[] => Array.from({ length: Math.floor(samples.length / WINDOW) }, (_, k) => rmsDb(samples.subarray(k * WINDOW, (k + 1) * WINDOW)));

/** By how much two recordings of one thing differ where something is heard, dB, at the shift where they agree best. */
function differences(program: Float32Array, heard: Float32Array): number[] {
  const wanted = levels(heard);
  /** Energy of everything before a sample: a level anywhere is one difference. */
  const before = new Float64Array(program.length + 1);
  program.forEach((sample, i) => (before[i + 1] = before[i] + sample * sample));
  let best: number[] = [];
  let least = Infinity;
  // Either may have begun before the other, and gone on for longer.
  for (let shift = 1.6 * WINDOW - heard.length; shift < program.length; shift += WINDOW / 16) {
    const there = wanted.map((_, k) => {
      const [from, to] = [shift + k * WINDOW, shift + (k + 1) * WINDOW];
      return from < 0 || to > program.length ? -Infinity : 10 * Math.log10((before[to] - before[from]) / WINDOW);
    });
    const both = there.flatMap((db, k) => (db > -45 ? [Math.abs(db - wanted[k])] : []));
    const mean = both.reduce((sum, db) => sum + db, 0) / both.length;
    if (both.length > 30 && mean < least) [least, best] = [mean, both];
  }
  return best.sort((a, b) => a - b);
}

const station = (page: Page) => page.getByRole('region', { name: 'On the air' }).getByRole('group', { name: 'Ferry radio' });

async function putAway({ page }: Host, radio: Radio): Promise<void> {
  await radio.close();
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  // What went wrong before is to be told, and not that this cannot be done either.
  await page.getByRole('button', { name: 'Remove Ferry radio' }).click({ timeout: 10_000 }).catch(() => undefined);
}

async function addStation(host: Host, radio: Radio): Promise<void> {
  const { page } = host;
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  await page.getByRole('button', { name: 'Add a station' }).waitFor();
  // A test that broke off has left its own.
  const left = page.getByRole('button', { name: 'Remove Ferry radio' });
  for (let more = await left.count(); more > 0; more--) {
    await left.first().click();
    await expect(left).toHaveCount(more - 1);
  }
  await page.getByRole('button', { name: 'Add a station' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Where to').selectOption('server');
  await sheet.getByLabel('Name listeners see').fill('Ferry radio');
  await sheet.getByLabel('User name').fill(radio.user);
  await sheet.getByLabel('Password').fill(radio.password);
  await sheet.getByText('Bring it slowly to the show’s loudness').click();
  // What whoever runs this does not allow is refused in words, and nothing typed is lost.
  await sheet.getByLabel('Address with mount').fill('https://radio.example/show');
  await sheet.getByRole('button', { name: 'Add the station' }).click();
  await expect(sheet.getByRole('alert')).toContainText('AIR_HOSTS');
  await sheet.getByLabel('Address with mount').fill(radio.address);
  await sheet.getByRole('button', { name: 'Add the station' }).click();
  await expect(sheet).toBeHidden();
  await expect(page.getByRole('region', { name: 'Internet radio' }).getByRole('group', { name: 'Ferry radio' })).toContainText('MP3, 128 kbit/s');
}

test.describe('on the air', () => {
  test.use({ tolerated: [/ERR_ABORTED|400|502|ERR_INCOMPLETE/] });

  test('as Ogg Opus it arrives whole as well, titles in the stream, and a listener who comes between two of them hears both', async ({ host, page }) => {
    const radio = await Radio.start();
    try {
      await host.openDesk();
      await addStation(host, radio);
      await page.getByRole('button', { name: 'Change Ferry radio' }).click();
      await page.getByRole('dialog').getByLabel('Coding').selectOption('opus');
      await page.getByRole('button', { name: 'Keep it' }).click();
      await page.getByRole('link', { name: 'Live', exact: true }).click();
      await host.startCall();
      await station(page).getByRole('button', { name: 'Put Ferry radio on the air' }).click();
      await expect.poll(() => radio.titles.at(-1)).toContain('The last chain ferry');
      const stopListening = radio.listen();
      const said = ['Fog, and what it hides', 'Ropes'];
      for (const title of said) {
        await page.getByRole('textbox', { name: 'Another title' }).fill(title);
        await page.keyboard.press('Enter');
        await expect.poll(() => radio.titles.at(-1)).toBe(title);
      }
      await station(page).getByRole('button', { name: 'Hear what they hear' }).click();
      await expect(station(page)).toContainText(/\d s behind you/, { timeout: 40_000 });
      const heard = await stopListening();
      expect(heard.length / RATE).toBeGreaterThan(5);
      expect(Math.max(...levels(heard).slice(-50)), 'what is heard behind the last title').toBeGreaterThan(-45);
      await host.endCall();
    } finally {
      await putAway(host, radio);
    }
  });

  test('what the audience hears is the program and nothing else, with its titles; the server may die and the desk reload', async ({ host, page }) => {
    const radio = await Radio.start();
    try {
      await giveSpeech(page);
      await host.openDesk();
      await addStation(host, radio);
      await host.recordMixes();
      await page.getByRole('link', { name: 'Live', exact: true }).click();
      await expect(station(page).getByRole('button', { name: 'Put Ferry radio on the air' })).toBeDisabled();
      await host.startCall();
      await station(page).getByRole('button', { name: 'Put Ferry radio on the air' }).click();
      await expect(station(page).getByRole('status')).toContainText('on the air since');
      // It is said in every room, and shows the way back.
      await page.getByRole('link', { name: 'Prepare', exact: true }).click();
      await page.getByRole('link', { name: 'Ferry radio: on the air' }).click();
      await expect.poll(() => radio.titles).toEqual([expect.stringContaining('The last chain ferry with')]);

      await host.record();
      const stopListening = radio.listen();
      await host.untilRecorded(5);
      // What is said to the callers alone, and what is listened to first, is nobody else's.
      await page.getByRole('button', { name: /^Talk to all/ }).click();
      await host.untilRecorded(8);
      await page.getByRole('button', { name: /^Talk to all/ }).click();
      await page.keyboard.down('v');
      await host.pad('Ship’s bell').click();
      await page.keyboard.up('v');
      await host.pad('Opening theme').click();
      await expect.poll(() => radio.titles.at(-1)).toBe('Maren Sollis - Opening theme');
      await page.keyboard.press('x');
      await page.getByRole('textbox', { name: 'Another title' }).fill('Fog, and what it hides');
      await page.keyboard.press('Enter');
      await host.untilRecorded(14);
      const heard = await stopListening();
      await expect.poll(() => radio.titles.at(-1)).toBe('Fog, and what it hides');
      await expect(station(page)).toContainText(/sent \d+\.\d s late/);

      // What they hear is heard here, and how late it is.
      await station(page).getByRole('button', { name: 'Hear what they hear' }).click();
      await expect(station(page)).toContainText(/\d s behind you/, { timeout: 40_000 });
      await station(page).getByRole('button', { name: 'Hear what they hear' }).click();

      await radio.kill();
      await expect(host.watch()).toContainText('“Ferry radio” is not on the air.');
      await expect(page.getByRole('link', { name: 'Ferry radio: server lost' })).toBeVisible();
      await radio.comeBack();
      await expect(station(page).getByRole('status')).toContainText('on the air since', { timeout: 30_000 });
      await expect(station(page)).toContainText('1 reconnection');
      await expect.poll(() => radio.titles.at(-1)).toBe('Fog, and what it hides');
      await page.getByRole('button', { name: 'Follow again' }).click();
      await expect.poll(() => radio.titles.at(-1)).toContain('The last chain ferry');
      await host.stop();

      // The desk is loaded again: the stream goes on by itself, and its server has noticed nothing.
      page.on('dialog', (dialog) => void dialog.accept());
      await page.reload();
      await expect(page.getByRole('button', { name: 'End call' })).toBeVisible();
      await expect(station(page)).toContainText(/sent \d+\.\d s late/, { timeout: 30_000 });
      await expect(station(page)).toContainText('1 reconnection');
      await host.endCall();
      await expect(station(page)).toContainText('The host ended the call.');
      await expect(station(page).getByRole('status')).toContainText('off the air');
      await expect(page.getByRole('link', { name: /^Ferry radio/ })).toBeHidden();

      // A made-up microphone may come late where the machine stands still; nothing else is missing.
      expect(await newestFaults()).toEqual([]);
      await host.openNewestTake();
      const [left, right] = trackOf(await downloadAll(page), 'program');
      // A listener is given the last seconds first, and those were before the recording.
      const apart = differences(left.map((sample, i) => 0.5 * (sample + right[i])), heard.subarray(4 * RATE));
      expect(apart.length, 'tenths of a second in which something is heard').toBeGreaterThan(30);
      expect(apart[Math.floor(0.9 * apart.length)], 'dB between the program and what the audience heard').toBeLessThan(1);
    } finally {
      await putAway(host, radio);
    }
  });
});
