import { Firefox, type FirefoxPage } from './firefox';
import { Guest, giveTones, makeEpisode } from './guests';
import { expect, test } from './host';
import { SoundServer } from './sound-server';
import { speech, tone } from './signals';
import { downloadAll, rmsDb, tracksIn, trackOf } from './take-files';
import { bestToneDb, expectHears, steadyToneDb, usualToneDb } from './tones';

const [HOST_HZ, GUEST_HZ, CAMERA_HZ] = [310, 523, 1730];
const RATE = 48000;
/** Firefox runs all streams at the rate of the system's output, and refuses to hear one at any other. */
const SYSTEM_RATE = 44100;
const AMPLITUDE = 0.1;
const TONE_DB = -20;
/** Beneath speech, by which tracks are put in step. */
const HUM_DB = -40;

/** A computer with one microphone and one pair of phones. Who sits at it speaks, and hums all the while. */
async function computer(hertz: number): Promise<SoundServer> {
  const sound = await SoundServer.start();
  sound.addOutput('mouth', 'Mouth', SYSTEM_RATE);
  sound.addInput('mic', 'mouth', 'Desk microphone');
  sound.addOutput('phones', 'Headphones', SYSTEM_RATE);
  sound.makeDefault('mic', 'phones');
  const hum = tone(hertz, 280, 10 ** (HUM_DB / 20));
  const spoken = speech(11, 280);
  sound.play('mouth', hum.map((x, i) => x + spoken[i]));
  return sound;
}

/** Ends take and call at a desk, and downloads the take when it was checked; gives the ZIP. */
async function endAndDownload(desk: FirefoxPage, firefox: Firefox): Promise<string> {
  await desk.press('Stop');
  await desk.says(/Take \d+ is safe/);
  const [, take] = /Take (\d+) is safe/.exec(await desk.words())!;
  await desk.press('End call');
  await desk.press('Takes', 'link');
  await desk.pressText(`Take ${take}`, 'main a');
  await desk.says('Check again');
  await desk.says('Who is heard in whose track');
  await desk.press('Download all tracks (ZIP)', 'link');
  return firefox.downloaded('.zip');
}

test('a guest in Firefox comes in, is heard and hears the others and never themselves, and is recorded at home too', async ({ host, page }) => {
  await giveTones(page, [HOST_HZ], AMPLITUDE);
  const [link] = await makeEpisode(host, 'The other engine', ['Runa Velde']);
  const sound = await computer(GUEST_HZ);
  const firefox = await Firefox.start(sound.env, 500, 844);
  try {
    await page.getByRole('link', { name: 'Live', exact: true }).click();
    await host.startCall();
    const guest = await firefox.open(link);
    await guest.pressText('I agree that my voice is recorded');
    await guest.press('Go on to the sound check');
    await guest.says('Good. Speak like this.');
    await guest.press('Go to the waiting room');
    await guest.says('You are in the waiting room');
    // The whole line, there and back.
    await guest.says('The desk records it and sends it back');
    const own = sound.record('phones');
    await guest.press('Hear yourself');
    await guest.says('Speak now …');
    const silent = own.samples().length;
    await guest.says('This is you', 15_000);
    const begins = own.samples().length;
    expect(steadyToneDb(own.samples().subarray(silent, begins), GUEST_HZ), 'the guest’s own voice while they speak').toBeLessThan(-75);
    await guest.says('Once more, if you like.', 15_000);
    // What was said at the same pitch may be louder than the hum.
    expect(bestToneDb(own.stop().subarray(begins), GUEST_HZ), 'the guest’s own voice, as it arrives at the desk').toBeGreaterThan(HUM_DB - 6);
    await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
    await guest.says('You are in the call');
    await host.record();
    await guest.says(/Your microphone is recorded here too: 0:0[1-9]/);
    const ear = sound.record('phones');
    // On a busy machine a short recording made at home is not always placed.
    await host.untilRecorded(40);
    const heard = ear.stop();
    await host.stop();
    await host.endCall();
    await guest.says('Everything that was recorded at your end has arrived');
    expect(guest.errors).toEqual([]);
    expect(Math.abs(bestToneDb(heard, HOST_HZ) - TONE_DB), 'the host in the guest’s phones').toBeLessThan(2);
    expect(steadyToneDb(heard, GUEST_HZ), 'the guest’s own voice in the guest’s phones').toBeLessThan(-75);

    await host.openNewestTake();
    const homes = page.getByRole('region', { name: 'Recorded at home' });
    await expect(homes.getByText(/^All 0:\d\d are here/)).toBeVisible({ timeout: 30_000 });
    await expect(homes.getByText(/^Placed; the clock there runs/)).toBeVisible({ timeout: 60_000 });
    const files = await downloadAll(page);
    for (const kind of ['voice', 'home']) {
      const [whole] = trackOf(files, `Runa-Velde_${kind}`);
      // At home it begins a little later, and ends when the word to stop has arrived.
      const track = whole.subarray(6 * RATE, -3 * RATE);
      expect(Math.abs(usualToneDb(track, GUEST_HZ) - HUM_DB), `the guest on the ${kind} track`).toBeLessThan(6);
      // Speech has every frequency.
      expect(steadyToneDb(track, HOST_HZ), `the host on the guest’s ${kind} track`).toBeLessThan(-60);
    }
  } finally {
    await firefox.close();
    sound.stop();
  }
});

test('a host’s desk in Firefox: the microphone that was chosen, a sound by its key, a page loaded anew in mid-take, and the tracks in a ZIP', async () => {
  const sound = await computer(HOST_HZ);
  // What the system would offer is another one.
  sound.addOutput('corner', 'Corner', SYSTEM_RATE);
  sound.addInput('camera', 'corner', 'Camera microphone');
  sound.makeDefault('camera', 'phones');
  sound.play('corner', tone(CAMERA_HZ, 280, AMPLITUDE));
  const firefox = await Firefox.start(sound.env, 1280, 900);
  try {
    const desk = await firefox.open(process.env.BASE_URL!);
    await desk.pressText('Open the desk', 'article[aria-label="The last chain ferry"] a');
    await desk.press('Prepare', 'link');
    await desk.press('Let me choose');
    await desk.choose('Microphone', 'Desk microphone');
    await desk.says(/peak −\d+ dBFS/);
    await desk.says('your phones are whatever the system uses');
    await desk.press('Live', 'link');
    await desk.press('Start call');
    await desk.says('End call');
    const ear = sound.record('phones');
    await desk.press('Record');
    await desk.says(/00:00:0[2-9]/);
    await desk.page.keyboard.press('2');
    await desk.says(/00:00:0[6-9]/);
    expect(rmsDb(ear.stop()), 'the phones').toBeGreaterThan(-50);

    desk.page.on('dialog', (dialog) => void dialog.accept());
    await desk.page.reload();
    await desk.says(/Take \d+ was left open\. This computer kept it/);
    await desk.pressText('Go on with take', 'button');
    await desk.says(/00:00:(1[89]|[2-5]\d)/);
    const zip = await endAndDownload(desk, firefox);
    const played = sound.record('phones');
    await desk.press('Play all');
    await desk.says(/0:0[2-9] of 0:/);
    expect(rmsDb(played.stop()), 'the take in the phones').toBeGreaterThan(-50);

    const files = tracksIn(zip);
    const [own] = trackOf(files, 'Maren-Sollis_voice');
    const listed = (await desk.words()).split('\n').filter((line) => line.startsWith('Maren Sollis: ')).join('; ');
    for (const [where, part] of [['before', own.subarray(RATE, 4 * RATE)], ['after', own.subarray(-4 * RATE)]] as const) {
      expect(Math.abs(usualToneDb(part, HOST_HZ) - HUM_DB), `the host on the host’s track ${where} the page was loaded anew; gaps: ${listed}`).toBeLessThan(6);
      expect(steadyToneDb(part, CAMERA_HZ), 'the other microphone').toBeLessThan(-60);
    }
    expect(rmsDb(trackOf(files, 'Sounds_sounds')[0].subarray(0, 8 * RATE)), 'the bell on its own track').toBeGreaterThan(-50);
    expect(desk.errors).toEqual([]);
  } finally {
    await firefox.close();
    sound.stop();
  }
});

test('a guest by link at a desk in Firefox hears the host and has a track of their own', async ({ host, page, browser }) => {
  const [link] = await makeEpisode(host, 'The desk on another engine', ['Runa Velde']);
  const address = page.url().replace(/prepare$/, 'live');
  // Only one desk is open at a time.
  await page.goto('about:blank');
  const sound = await computer(HOST_HZ);
  const firefox = await Firefox.start(sound.env, 1280, 900);
  try {
    const desk = await firefox.open(address);
    await desk.press('Start call');
    const guest = await Guest.open(browser, 'Runa', link, GUEST_HZ, AMPLITUDE);
    await guest.arrive();
    await desk.press('Bring Runa up');
    await guest.isIn();
    await expectHears(guest.page, HOST_HZ, HUM_DB - 3);
    await desk.press('Record');
    await desk.says(/00:00:1[0-9]/);
    const zip = await endAndDownload(desk, firefox);
    expect(desk.errors).toEqual([]);
    const track = trackOf(tracksIn(zip), 'Runa-Velde_voice')[0].subarray(2 * RATE, -RATE);
    expect(Math.abs(bestToneDb(track, GUEST_HZ) - TONE_DB), 'the guest on the guest’s track').toBeLessThan(2);
    expect(steadyToneDb(track, HOST_HZ), 'the host on the guest’s track').toBeLessThan(-75);
  } finally {
    await firefox.close();
    sound.stop();
  }
});
