import { newestFaults, newestPlanChanges, readTake } from './newest-take';
import { createLimiter } from '../src/core/engine/limiter';
import { compiledGain, compilePlan } from '../src/core/hearing/compile';
import { expect, test } from './host';
import { simulateSources } from './simulate';
import { correlation, downloadAll, readWav, rmsDb, trackOf } from './take-files';

const CALLERS = ['Odalys-Brandt', 'Tomasz-Wierzba', 'Priya-Nandakumar'];
const PEOPLE = { 'voice:maren': 'Maren-Sollis', 'voice:odalys': 'Odalys-Brandt', 'voice:tomasz': 'Tomasz-Wierzba', 'voice:priya': 'Priya-Nandakumar' };
/** Everybody with a track: who comes by another program is there too, and waits. */
const TRACKS: Record<string, string> = { ...PEOPLE, 'voice:harbour': 'Harbour-office' };
/** Quantisation of 24-bit tracks, several of them added up. */
const BITS = 2 ** -21;

test('an interview from end to end: every track alone, every return without its owner', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  await expect(host.lane('Maren')).toContainText('simulated voice');
  await host.recordMixes();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.record();
  await host.untilRecorded(2);
  await page.keyboard.press('2');
  await expect(host.pad('Ship’s bell')).toHaveAttribute('aria-pressed', 'true');
  await host.untilRecorded(17);
  await host.stop();
  await host.openNewestTake();
  expect(await newestFaults()).toEqual([]);
  const files = await downloadAll(page);
  expect(files).toHaveLength(14);
  const length = files[0].channels[0].length;
  expect(length).toBeGreaterThan(17 * 48000);
  for (const { name, channels } of files) expect(channels[0].length, name).toBe(length);

  // What each simulated line sent, computed again outside the browser from the same seed.
  const take = await readTake();
  const effects = trackOf(files, '_Sounds_sounds');
  const bellAt = Math.floor(effects[0].findIndex((sample) => sample !== 0) / 128) * 128;
  const sent = simulateSources({ ...take, bellAt, bellLevelDb: -3 });
  for (const [source, name] of Object.entries(PEOPLE)) {
    const [track] = trackOf(files, `${name}_voice`);
    const [truth] = sent.get(source)!;
    expect(rmsDb(truth), `${name} speaks`).toBeGreaterThan(-60);
    const difference = track.map((sample, i) => sample - truth[i]);
    expect(rmsDb(difference), `${name}'s track holds nothing else, from ${firstAbove(difference, 1e-4)} on`).toBeLessThan(-100);
    expect(correlation(track, truth), `${name}'s track is what the line sent`).toBeGreaterThan(0.9999);
  }
  expect(correlation(effects[0], sent.get('sounds:effects')![0])).toBeGreaterThan(0.9999);

  // Every mix is the sum of exactly those tracks the plan lets it hear, so its owner is not in it.
  const compiled = compilePlan(take.plan);
  const sources = compiled.sourceIds.filter((id) => /^(voice|sounds):/.test(id));
  const heard = { ...Object.fromEntries(CALLERS.map((name, k) => [`return:${['odalys', 'tomasz', 'priya'][k]}`, `${name}_return`])), 'phones:maren': 'Maren-Sollis_phones', program: 'Program_program' };
  for (const [listener, file] of Object.entries(heard)) {
    const mix = trackOf(files, file);
    const sum = [new Float32Array(length), new Float32Array(length)];
    for (const source of sources) {
      const gain = compiledGain(compiled, source, listener as 'program');
      const name = source.startsWith('voice:') ? `${TRACKS[source]}_voice` : `_${source === 'sounds:bed' ? 'Bed' : 'Sounds'}_sounds`;
      const track = trackOf(files, name);
      sum.forEach((samples, side) => samples.forEach((sample, i) => (samples[i] = sample + gain * (track[side] ?? track[0])[i])));
    }
    // Where the bell falls on a loud word, it is held below the ceiling.
    const limiter = createLimiter(48000);
    for (let from = 0; from < length; from += 128) {
      const [left, right] = sum.map((samples) => samples.subarray(from, from + 128));
      limiter.process(left, right, left.length, [...left, ...right].reduce((most, sample) => Math.max(most, Math.abs(sample)), 0));
    }
    const worst = Math.max(...mix.map((samples, side) => samples.reduce((most, sample, i) => Math.max(most, Math.abs(sample - sum[side][i])), 0)));
    expect(worst, listener).toBeLessThan(BITS);
    if (listener !== 'program') {
      expect(compiledGain(compiled, 'sounds:effects', listener as 'program'), `the bell reaches ${listener}`).toBeGreaterThan(0);
    }
  }
});

test('one track is downloaded under a name that says what it is', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  await host.record();
  await host.untilRecorded(1);
  // Stopped while the list of takes is open: the list follows.
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  const newest = page.getByRole('main').getByRole('link', { name: /^Take / }).first();
  await expect(newest).toContainText('It is being recorded.');
  await host.stop();
  await expect(newest).not.toContainText(/recorded|left open/);
  await host.openNewestTake();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download Maren Sollis, voice, as received, as WAV' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^Ferry-Weather_E14_\d{4}-\d\d-\d\d_take-\d+_01_Maren-Sollis_voice\.wav$/);
  expect(readWav(await download.path())).toHaveLength(1);
});

test('a reload brings the desk back with its plan, its call and the take that was open', async ({ host, page }) => {
  await host.openDesk();
  await host.startCall();
  await host.lane('Priya').getByRole('button', { name: 'Priya in the mixes' }).click();
  const gain = host.lane('Odalys').getByRole('slider', { name: 'Gain of Odalys' });
  await gain.focus();
  for (let k = 0; k < 6; k++) await page.keyboard.press('ArrowLeft');
  await expect(host.lane('Odalys')).toContainText('−3 dB');
  await host.record();
  await host.untilRecorded(3);
  const inTheList = async (words: string) => {
    await page.getByRole('link', { name: 'Takes', exact: true }).click();
    await expect(page.getByRole('main').getByRole('link', { name: /^Take / }).first()).toContainText(words);
    await page.getByRole('link', { name: 'Live', exact: true }).click();
    await expect(host.lane('Odalys')).toBeVisible();
  };
  await inTheList('It is being recorded.');
  page.on('dialog', (dialog) => void dialog.accept());
  await page.reload();
  await expect(page.getByRole('button', { name: 'End call' })).toBeVisible();
  await expect(host.lane('Odalys')).toContainText('−3 dB');
  await expect(host.lane('Priya').getByRole('button', { name: 'Priya in the mixes' })).toHaveAttribute('aria-pressed', 'false');
  await expect(host.watch()).toContainText(/Take \d+ was left open/);
  await inTheList('It was left open');
  await host.watch().getByRole('button', { name: /Seal take/ }).click();
  await expect(host.recording()).toContainText(/Take \d+ is safe: 0:(0[2-9]|1\d)/);
  await host.lane('Priya').getByRole('button', { name: 'Priya in the mixes' }).click();
  await gain.focus();
  for (let k = 0; k < 6; k++) await page.keyboard.press('ArrowRight');
  await expect(host.lane('Odalys')).toContainText('0 dB');
  await host.endCall();
});

test.describe('when the server is away', () => {
  // Away for long, the desk's place was given up: what it says before it has it again is refused, and said once more.
  test.use({ tolerated: [/ERR_INTERNET_DISCONNECTED|409 \(Conflict\).*\/messages/] });
  test('recording goes on, says so, the call ends when it is ended, and everything arrives afterwards', async ({ host, context }) => {
    await host.openDesk();
    await host.startCall();
    await host.record();
    await host.untilRecorded(1);
    await context.setOffline(true);
    await expect(host.recording()).toContainText('waiting to send');
    await host.untilRecorded(5);
    await context.setOffline(false);
    await expect(host.recording()).toContainText(/0:0\d safe on the server/);
    await context.setOffline(true);
    await host.endCall();
    await expect(host.recording()).toContainText(/kept on this computer · waiting to send.*Saving/s);
    await context.setOffline(false);
    await expect(host.recording()).toContainText(/Take \d+ is safe/);
    expect(await newestFaults()).toEqual([]);
  });

  test('a take that is only being begun when the call ends is closed like any other', async ({ host, page }) => {
    await host.openDesk();
    await host.startCall();
    let answer = (): void => undefined;
    const pressed = new Promise<void>((resolve) => (answer = resolve));
    await page.route('**/takes', (route) => pressed.then(() => route.continue()));
    await page.getByRole('button', { name: 'Record', exact: true }).click();
    await page.getByRole('button', { name: 'End call' }).click();
    answer();
    await expect(page.getByRole('button', { name: 'Start call' })).toBeVisible();
    await expect(host.recording()).toContainText(/Take \d+ is safe/);
  });
});

/** Where two signals part, for the one who has to find out why. */
const firstAbove = (samples: Float32Array, limit: number) => samples.findIndex((sample) => Math.abs(sample) > limit);

test('a change takes effect on air within 30 ms, and the take knows when', async ({ host, page }) => {
  await host.openDesk();
  await host.recordMixes();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await page.keyboard.press('3');
  await host.record();
  await host.untilRecorded(2);
  await page.keyboard.press('k');
  const mark = page.getByRole('textbox', { name: 'Name of the last mark' });
  await mark.fill('The bed goes');
  await mark.press('Enter');
  const bed = host.lane('Bed').getByRole('button', { name: 'Bed in the mixes' });
  await bed.click();
  await host.untilRecorded(4);
  await host.stop();
  await host.openNewestTake();
  await expect(page.getByRole('region', { name: 'Markers' }).getByRole('button', { name: /^0:0\d The bed goes$/ })).toBeVisible();
  const files = await downloadAll(page);
  const program = trackOf(files, 'Program_program')[0];
  const others = ['Maren-Sollis_voice', 'Odalys-Brandt_voice', 'Tomasz-Wierzba_voice', 'Priya-Nandakumar_voice'].map((name) => trackOf(files, name)[0]);
  let last = 0;
  program.forEach((sample, i) => {
    if (Math.abs(sample - others.reduce((sum, track) => sum + track[i], 0)) > 1e-4) last = i;
  });
  const [changedAt] = await newestPlanChanges();
  // The audio thread itself noted the block in which it began to change.
  expect(last - changedAt).toBeGreaterThan(0);
  expect(last - changedAt).toBeLessThan(0.03 * 48000);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await bed.click();
  await host.endCall();
});
