import type { Page } from '@playwright/test';
import { giveTones, Guest, makeEpisode, openLink } from './guests';
import { expect, test } from './host';
import { downloadAll, trackOf } from './take-files';
import { sitPractice } from './practice-seat';
import { heardTones, toneDb } from './tones';

const RATE = 48_000;
const SOREN_HZ = 620;

/** A guest’s loudspeakers: what the page receives is in its microphone, until the page asks for a microphone that cancels. */
const loudspeakers = (page: Page) =>
  page.addInitScript(() => {
    const context = new AudioContext({ sampleRate: 48000 });
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
    const air = new GainNode(context, { gain: 0.1 });
    air.connect(out);
    navigator.mediaDevices.getUserMedia = (wishes) => {
      const { echoCancellation } = wishes!.audio as MediaTrackConstraints;
      air.gain.value = echoCancellation === true ? 0 : 0.1;
      return Promise.resolve(out.stream.clone());
    };
    const Connection = window.RTCPeerConnection;
    window.RTCPeerConnection = class extends Connection {
      constructor(configuration?: RTCConfiguration) {
        super(configuration);
        this.addEventListener('track', ({ track }) => void context.createMediaStreamSource(new MediaStream([track])).connect(air));
      }
    };
  });

// The page is loaded anew while it may still save its plan.
test.use({ tolerated: [/409 \(Conflict\).*\/plan/] });

test('who sends the others back to themselves is found on ordinary speech, asked for headphones, and their browser cancels', async ({ host, browser }) => {
  test.setTimeout(600_000);
  const { page } = host;
  const links = await makeEpisode(host, 'Who comes back', ['Runa Velde', 'Soren Aas', 'Edda Lind']);
  await sitPractice('Edda Lind', 'odalys');
  await page.reload();
  await host.openSettings();
  await page.getByText('Record voices as they go into the mixes too').click();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const runa = new Guest(await openLink(browser, links[0], loudspeakers), 'Runa', links[0]);
  // A tone that Soren says, and hears only when somebody sends it back.
  const soren = new Guest(await openLink(browser, links[1], (one) => giveTones(one, [SOREN_HZ])), 'Soren', links[1]);
  for (const guest of [runa, soren]) {
    await guest.comeIn();
    await host.lane(guest.name).getByRole('button', { name: `Bring ${guest.name} up` }).click();
    await guest.isIn();
  }
  await host.lane('Edda').getByRole('button', { name: 'Bring Edda up' }).click();

  const watch = page.getByRole('region', { name: 'Watch' });
  // How loud it is, to a decibel, is held by simulation; here the room is a page, and a page that stands still breaks what comes back.
  await expect(watch).toContainText(/Runa sits at loudspeakers: the others hear themselves \d+ ms late at −(1[89]|2\d)(\.\d)? dB/, { timeout: 120_000 });
  await expect(watch).not.toContainText(/Soren (sits|’s)/);

  await host.record();
  await host.untilRecorded(2);
  // Cancelled here: who was sent back to themselves no longer is, by a press, and the track goes on holding it.
  const sorenHears = async () => (await heardTones(soren.page, [SOREN_HZ])).get(SOREN_HZ)!.usual;
  let before = -Infinity;
  await expect.poll(async () => Math.abs((before = await sorenHears()) + 40), { message: 'sent back 20 dB down', timeout: 90_000 }).toBeLessThan(3);
  await watch.getByRole('button', { name: 'Cancel the echo of Runa here' }).click();
  await expect(watch).toContainText('It is cancelled here, in every mix; the track keeps it.');
  await expect.poll(sorenHears, { timeout: 90_000 }).toBeLessThan(before - 15);
  const cancelledAt = await host.recordedSeconds();
  // Lines are reported to the take every ten seconds.
  await host.untilRecorded(cancelledAt + 11);
  await host.stop();
  await watch.getByRole('button', { name: 'Stop cancelling the echo of Runa' }).click();
  await expect.poll(sorenHears, { timeout: 90_000 }).toBeGreaterThan(before - 5);

  await watch.getByRole('button', { name: 'Send Runa 6 dB less' }).click();
  await expect.poll(sorenHears, { timeout: 90_000 }).toBeLessThan(before - 4);
  await host.lane('Runa').getByRole('button', { name: 'Line of Runa' }).click();
  const panel = page.getByRole('dialog', { name: /^Runa/ });
  await expect(panel).toContainText('the others hear themselves');
  await panel.getByRole('button', { name: 'Close' }).click();

  await watch.getByRole('button', { name: 'Ask Runa for headphones' }).click();
  const card = runa.page.getByRole('group', { name: /asks for headphones/ });
  await expect(card).toContainText('Maren asks: would you put on headphones?');
  await watch.getByRole('button', { name: 'Let the browser of Runa cancel' }).click();
  await expect(card).toContainText('Your browser cancels the echo now');
  await expect(watch).not.toContainText('Runa sits', { timeout: 60_000 });
  await host.endCall();

  // The take knows of it, and the raw track holds what the mixes did not.
  await host.openNewestTake();
  await page.getByText('Quality of the lines').click();
  await expect(page.getByRole('region', { name: 'Line of runa' })).toContainText(/The others came back \d+ ms late, −\d+(\.5)? dB at its loudest.*It was cancelled in the mixes/);
  const files = await downloadAll(page);
  const [[raw], [mixed]] = ['Runa-Velde_voice', 'Runa-Velde_processed'].map((name) => trackOf(files, name));
  const cancelled = (track: Float32Array): number => toneDb(track.subarray(cancelledAt * RATE, (cancelledAt + 5) * RATE), SOREN_HZ);
  expect(cancelled(raw)).toBeGreaterThan(before - 6);
  // As it went into the mixes is a track from the press on, in step with the other.
  expect(mixed.length).toBe(raw.length);
  expect(mixed.subarray(0, RATE).every((sample) => sample === 0)).toBe(true);
  expect(mixed.some((sample) => sample !== 0)).toBe(true);
  expect(cancelled(mixed)).toBeLessThan(cancelled(raw) - 15);
});
