import { expect, test } from './host';
import { downloadAll, trackOf } from './take-files';

const WINDOW = 4800;
const GAIN = 10 ** (-12 / 20);
/** Below this a window holds nothing but the quantisation of 24-bit tracks added up. */
const NOTHING = 1e-10;

test('cough and talk, measured in the returns, the program and the tracks', async ({ host, page }) => {
  await host.openDesk();
  await host.recordMixes();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  // Then Odalys's return holds the host alone, and the program the host and Odalys.
  for (const name of ['Tomasz', 'Priya']) await host.lane(name).getByRole('button', { name: `Send ${name} back to waiting` }).click();
  // Low enough that no limiter has anything to do with what is compared.
  const gain = host.lane('Maren').getByRole('slider', { name: 'Gain of Maren' });
  await gain.focus();
  for (let k = 0; k < 24; k++) await page.keyboard.press('ArrowLeft');
  await expect(host.lane('Maren')).toContainText('−12 dB');
  await host.startCall();
  await expect(host.lane('Maren')).toContainText(/Fake/);
  await host.record();
  await host.untilRecorded(3);
  await page.keyboard.down('c');
  await expect(page.getByRole('button', { name: 'Cough: keep Maren out' })).toHaveAttribute('aria-pressed', 'true');
  await host.untilRecorded(9);
  await page.keyboard.up('c');
  await expect(page.getByRole('button', { name: 'Cough: keep Maren out' })).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.down('q');
  await expect(page.getByText('Only Odalys hears you.')).toBeVisible();
  await host.untilRecorded(14);
  // A held key must not stick when the window loses the keyboard.
  await page.evaluate(() => window.dispatchEvent(new Event('blur')));
  await expect(page.getByText('You are in the call.')).toBeVisible();
  await page.keyboard.up('q');
  await host.untilRecorded(16);
  await host.stop();
  await host.openNewestTake();
  const files = await downloadAll(page);
  const voice = trackOf(files, 'Maren-Sollis_voice')[0];
  const odalys = trackOf(files, 'Odalys-Brandt_voice')[0];
  const heardByOdalys = trackOf(files, 'Odalys-Brandt_return')[0];
  const program = trackOf(files, 'Program_program')[0];

  const seen = { plain: 0, coughing: 0, talking: 0 };
  for (let from = 0; from + WINDOW <= voice.length; from += WINDOW) {
    const power = (at: (i: number) => number) => {
      let sum = 0;
      for (let i = from; i < from + WINDOW; i++) sum += at(i) ** 2;
      return sum / WINDOW;
    };
    const said = power((i) => voice[i]);
    const inReturn = power((i) => heardByOdalys[i]);
    const inProgram = power((i) => program[i] - odalys[i]);
    const asSaid = power((i) => heardByOdalys[i] - GAIN * voice[i]) + power((i) => program[i] - odalys[i] - GAIN * voice[i]);
    // The browser's test beep swings beyond full scale: 24-bit tracks hold it at the end, mixes do not.
    if (said > 1e-6 && asSaid < 1e-4 * said) seen.plain++;
    if (said > 1e-6 && inReturn < NOTHING && inProgram < NOTHING) seen.coughing++;
    if (said === 0 && inReturn > 1e-6 && inProgram < NOTHING) seen.talking++;
  }
  expect(seen.plain, 'in the call and the program as on the track').toBeGreaterThan(1);
  expect(seen.coughing, 'on the track, heard by nobody').toBeGreaterThan(1);
  expect(seen.talking, 'in Odalys’s return, on no track, not in the program').toBeGreaterThan(1);

  await page.getByRole('link', { name: 'Live', exact: true }).click();
  for (const name of ['Tomasz', 'Priya']) await host.lane(name).getByRole('button', { name: `Bring ${name} up` }).click();
  await gain.focus();
  for (let k = 0; k < 24; k++) await page.keyboard.press('ArrowRight');
  await host.lane('Odalys').getByRole('button', { name: 'Listen to Odalys alone' }).click();
  await expect(host.watch()).toContainText('You hear Odalys alone, before the fader, not your own mix.');
  await page.keyboard.press('m');
  await expect(host.watch()).not.toContainText('alone');
  await host.endCall();
});
