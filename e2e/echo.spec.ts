import type { Page } from '@playwright/test';
import { Guest, makeEpisode, openLink } from './guests';
import { expect, test } from './host';
import { sitPractice } from './practice-seat';

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
  test.setTimeout(150_000);
  const { page } = host;
  const links = await makeEpisode(host, 'Who comes back', ['Runa Velde', 'Soren Aas', 'Edda Lind']);
  await sitPractice('Edda Lind', 'odalys');
  await page.reload();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const runa = new Guest(await openLink(browser, links[0], loudspeakers), 'Runa', links[0]);
  const soren = new Guest(await openLink(browser, links[1], async (one) => void (await one.addInitScript(() => {
    const context = new AudioContext({ sampleRate: 48000 });
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
    navigator.mediaDevices.getUserMedia = () => Promise.resolve(out.stream.clone());
  }))), 'Soren', links[1]);
  for (const guest of [runa, soren]) {
    await guest.comeIn();
    await host.lane(guest.name).getByRole('button', { name: `Bring ${guest.name} up` }).click();
    await guest.isIn();
  }
  await host.lane('Edda').getByRole('button', { name: 'Bring Edda up' }).click();

  const watch = page.getByRole('region', { name: 'Watch' });
  await expect(watch).toContainText(/Runa sits at loudspeakers: the others hear themselves \d+ ms late at −(19|20|21|22)(\.\d)? dB/, { timeout: 45_000 });
  await expect(watch).not.toContainText(/Soren (sits|’s)/);

  await watch.getByRole('button', { name: 'Ask Runa for headphones' }).click();
  const card = runa.page.getByRole('group', { name: /asks for headphones/ });
  await expect(card).toContainText('Maren asks: would you put on headphones?');
  await watch.getByRole('button', { name: 'Let their browser cancel' }).click();
  await expect(card).toContainText('Your browser cancels the echo now');
  await expect(watch).not.toContainText('Runa sits', { timeout: 60_000 });
  await host.endCall();
});
