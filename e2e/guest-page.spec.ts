import { faultsIn } from './accessible';
import { expect, test } from './host';
import { giveTones, Guest, makeEpisode, openLink } from './guests';
import type { Page } from '@playwright/test';

const consent = 'I agree that my voice is recorded';

async function agree(page: Page): Promise<void> {
  await page.getByText(consent).click();
  await page.getByRole('button', { name: 'Go on to the sound check' }).click();
}

test('a guest who refuses the microphone, has none, or pulls it out is told what to do and can go on', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'No microphone', ['Runa Velde']);
  const page = await openLink(browser, link, (one) =>
    one.addInitScript(() => {
      const world = window as unknown as { trouble: string | null; tracks: MediaStreamTrack[] };
      world.trouble = 'NotAllowedError';
      world.tracks = [];
      navigator.mediaDevices.getUserMedia = async () => {
        if (world.trouble) throw new DOMException('no', world.trouble);
        const context = new AudioContext();
        const out = new MediaStreamAudioDestinationNode(context);
        const tone = new OscillatorNode(context, { frequency: 440 });
        tone.connect(new GainNode(context, { gain: 0.2 })).connect(out);
        tone.start();
        world.tracks = out.stream.getAudioTracks();
        return out.stream;
      };
    }),
  );
  // Without a name or the consent there is no way on, and the page says so.
  await page.getByLabel('Your name').fill('');
  await page.getByRole('button', { name: 'Go on to the sound check' }).click();
  await expect(page.getByRole('alert').first()).toHaveText('Write your name first.');
  await page.getByLabel('Your name').fill('Runa V.');
  await page.getByRole('button', { name: 'Go on to the sound check' }).click();
  await expect(page.getByRole('alert').first()).toHaveText('Recording needs your consent: tick the box above.');
  await agree(page);
  const microphone = page.getByRole('region', { name: 'Microphone' });
  await expect(microphone.getByRole('alert')).toContainText('Allow it in the address bar');
  await expect(page.getByRole('button', { name: 'Go to the waiting room' })).toBeDisabled();
  const fail = (name: string | null) => page.evaluate((trouble) => void ((window as unknown as { trouble: string | null }).trouble = trouble), name);
  await fail('NotFoundError');
  await microphone.getByRole('button', { name: 'Try again' }).click();
  await expect(microphone.getByRole('alert')).toContainText('No microphone was found');
  await fail('NotReadableError');
  await microphone.getByRole('button', { name: 'Try again' }).click();
  await expect(microphone.getByRole('alert')).toContainText('Another program holds your microphone');
  await fail(null);
  await microphone.getByRole('button', { name: 'Try again' }).click();
  await expect(microphone).toContainText('Good. Speak like this.');
  await page.getByRole('button', { name: 'Go to the waiting room' }).click();

  await host.startCall();
  await expect(host.lane('Runa')).toContainText('waiting to be brought up');
  // The plug is pulled: an ended track says so itself, as a device's would.
  await page.evaluate(() => (window as unknown as { tracks: MediaStreamTrack[] }).tracks.forEach((track) => track.dispatchEvent(new Event('ended'))));
  await expect(page.getByText('Your microphone went away.')).toBeVisible();
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText('Good. Speak like this.')).toBeVisible();
  await host.endCall();
  await page.context().close();
});

test('a page whose sound the browser has stopped says so, and goes on after one press, in the sound check and in the call', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'Stopped sound', ['Runa Velde']);
  const page = await openLink(browser, link, (one) =>
    one.addInitScript(() => {
      const Plain = AudioContext;
      const made: AudioContext[] = [];
      let kept = false;
      // As a telephone does it: still, until somebody presses something on the page.
      window.AudioContext = class extends Plain {
        constructor(options?: AudioContextOptions) {
          super(options);
          made.push(this);
        }
        override resume(): Promise<void> {
          return kept ? new Promise(() => undefined) : super.resume();
        }
      };
      document.addEventListener('click', (event) => (kept &&= !(event.target as Element).textContent?.includes('Let the sound go on')), true);
      (window as unknown as { stopSound: () => void }).stopSound = () => {
        kept = true;
        for (const context of made) if (context.state === 'running') void context.suspend();
      };
      navigator.mediaDevices.getUserMedia = () => {
        const context = new Plain();
        const out = new MediaStreamAudioDestinationNode(context);
        const tone = new OscillatorNode(context, { frequency: 440 });
        tone.connect(new GainNode(context, { gain: 0.2 })).connect(out);
        tone.start();
        return Promise.resolve(out.stream);
      };
    }),
  );
  const stopped = page.getByRole('alert').filter({ hasText: 'Your browser has stopped the sound of this page' });
  const stopAndGoOn = async () => {
    await page.evaluate(() => (window as unknown as { stopSound: () => void }).stopSound());
    await expect(stopped).toBeVisible();
    await page.getByRole('button', { name: 'Let the sound go on' }).click();
    await expect(stopped).toHaveCount(0);
    await expect(page.getByText('Good. Speak like this.')).toBeVisible();
  };
  await agree(page);
  await expect(page.getByText('Good. Speak like this.')).toBeVisible();
  await stopAndGoOn();
  await page.getByRole('button', { name: 'Go to the waiting room' }).click();
  await host.startCall();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await new Guest(page, 'Runa Velde', link).isIn();
  await stopAndGoOn();
  await host.endCall();
  await page.context().close();
});

test('the headphones test measures loudspeakers that reach the microphone, and hears nothing where there are none', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'Loudspeakers', ['Runa Velde']);
  const page = await openLink(browser, link, (one) =>
    one.addInitScript(() => {
      // A room: what the page plays reaches its microphone a tenth as loud, 60 ms later, while `room.gain` says so.
      const room = { gain: 0.1 };
      (window as unknown as { room: typeof room }).room = room;
      const feeds: { context: AudioContext; into: GainNode }[] = [];
      const microphone = new AudioContext();
      const out = new MediaStreamAudioDestinationNode(microphone, { channelCount: 1 });
      const connect = AudioNode.prototype.connect as (this: AudioNode, ...words: unknown[]) => AudioNode;
      (AudioNode.prototype as { connect: unknown }).connect = function (this: AudioNode, ...words: unknown[]) {
        if (words[0] instanceof AudioDestinationNode && this.context !== microphone) {
          const tap = new MediaStreamAudioDestinationNode(this.context as AudioContext);
          connect.call(this, tap);
          const gain = new GainNode(microphone, { gain: room.gain });
          const delay = new DelayNode(microphone, { delayTime: 0.06 });
          connect.call(connect.call(connect.call(microphone.createMediaStreamSource(tap.stream), delay), gain), out);
          feeds.push({ context: this.context as AudioContext, into: gain });
        }
        return connect.call(this, ...words);
      };
      navigator.mediaDevices.getUserMedia = () => Promise.resolve(out.stream.clone());
    }),
  );
  await agree(page);
  const headphones = page.getByRole('region', { name: 'Headphones' });
  await headphones.getByRole('button', { name: 'Play the test sound' }).click();
  // A machine that is busy drops some of the sound on its way through the simulated room.
  await expect(headphones.getByRole('status')).toContainText(/Your microphone hears your loudspeakers: −(1[89]|2[0-6])(\.5)? dB after \d+ ms/);
  expect(Number(/after (\d+) ms/.exec(await headphones.getByRole('status').innerText())![1])).toBeGreaterThanOrEqual(60);
  // The audit reckons with it by itself, and nothing is written into the plan unless the host keeps it.
  await host.openInAndOut();
  const outside = host.page.getByRole('region', { name: 'Outside the desk' });
  const measured = outside.getByRole('group', { name: 'Runa listens on loudspeakers, measured' });
  await expect(measured).toContainText(/−(1[89]|2[0-6])(\.\d)? dB after \d+ ms/);
  await expect(measured).toContainText('measured by the headphones test');
  await measured.getByRole('button', { name: 'Keep as a note' }).click();
  await expect(outside.getByRole('group', { name: 'Runa listens on loudspeakers', exact: true })).toContainText('measured by the headphones test');
  await headphones.getByRole('button', { name: 'I have no headphones: cancel the echo' }).click();
  await expect(headphones.getByRole('button', { name: 'Echo is cancelled' })).toHaveAttribute('aria-pressed', 'true');
  // Headphones on.
  await page.evaluate(() => void ((window as unknown as { room: { gain: number } }).room.gain = 0));
  await headphones.getByRole('button', { name: 'Test again' }).click();
  await expect(headphones.getByRole('status')).toHaveText('Good: your microphone does not hear your headphones.');
  await page.context().close();
});

test('a test call is recorded through the call’s own coding and played back once', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'Hear yourself', ['Runa Velde']);
  const page = await openLink(browser, link, (one) => giveTones(one, [440]));
  await agree(page);
  const self = page.getByRole('region', { name: 'How you sound' });
  await self.getByRole('button', { name: 'Hear yourself' }).click();
  await expect(self.getByRole('status')).toHaveText('Speak now …');
  await expect(self.getByRole('status')).toHaveText('This is how callers hear you.');
  await expect(self.getByRole('status')).toHaveText('Once more, if you like.');
  await page.context().close();
});

test.describe('a link that does not let anybody in', () => {
  test.use({ tolerated: [/401|410/] });
  test('says so kindly and shows nothing else', async ({ host, page }) => {
    await host.page.goto('/');
    await page.goto(`/join/${'a'.repeat(43)}`);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('This link does not lead anywhere now');
    await expect(page.getByText('This is not a link of ours')).toBeVisible();
    await expect(page.getByText('Ferry Weather')).toHaveCount(0);
    await page.goto('/join/x');
    await expect(page.getByText('This is not a link of ours')).toBeVisible();
  });
});

test('the guest’s page works on a phone, by keyboard, and for those who do not see it', async ({ host, browser }) => {
  const [link] = await makeEpisode(host, 'On a phone', ['Runa Velde']);
  const page = await openLink(browser, link, (one) => giveTones(one, [440]));
  const clean = async () => {
    expect(await faultsIn(page, { minor: true })).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  };
  await expect(page.getByText(consent)).toBeVisible();
  await clean();
  const { headers } = { headers: (await page.request.get(link)).headers() };
  expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  expect(headers['content-security-policy']).not.toContain("'unsafe-eval'");
  await page.getByRole('checkbox').focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Go to the waiting room' })).toBeEnabled();
  await clean();
  await page.getByRole('button', { name: 'Go to the waiting room' }).focus();
  await page.keyboard.press('Enter');
  const runa = new Guest(page, 'Runa', link);
  await runa.isWaiting();
  await host.startCall();
  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await runa.isIn();
  await clean();
  await page.getByRole('button', { name: 'Mute yourself' }).focus();
  await page.keyboard.press('Enter');
  await expect(host.lane('Runa')).toContainText('muted');
  await host.endCall();
  await page.context().close();
});
