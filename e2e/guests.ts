import { expect, type Browser, type BrowserContext, type Page } from '@playwright/test';
import type { Host } from './host';

/** For a machine that carries many pages at once. */
const PATIENCE_MS = 150_000;

/** Gives a page a microphone that hears these tones, and keeps what the page receives for measuring. */
export async function giveTones(page: Page | BrowserContext, frequencies: number[], amplitude = 0.1): Promise<void> {
  await page.addInitScript(
    ([tones, level]) => {
      let stream: MediaStream | null = null;
      const microphone = (): MediaStream => {
        if (!stream) {
          const context = new AudioContext({ sampleRate: 48000 });
          const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
          for (const frequency of tones) {
            const tone = new OscillatorNode(context, { frequency });
            tone.connect(new GainNode(context, { gain: level })).connect(out);
            tone.start();
          }
          stream = out.stream;
        }
        return stream.clone();
      };
      navigator.mediaDevices.getUserMedia = () => Promise.resolve(microphone());
      const Connection = window.RTCPeerConnection;
      const received = { stream: null as MediaStream | null };
      (window as unknown as { received: typeof received }).received = received;
      window.RTCPeerConnection = class extends Connection {
        constructor(configuration?: RTCConfiguration) {
          super(configuration);
          this.addEventListener('track', ({ track }) => (received.stream = new MediaStream([track])));
        }
      };
    },
    [frequencies, amplitude] as [number[], number],
  );
}

/** Gives a page a microphone that hears something like speech: bursts of noise that never repeat within a take. */
export async function giveSpeech(page: Page): Promise<void> {
  await page.addInitScript(() => {
    let stream: MediaStream | null = null;
    const microphone = (): MediaStream => {
      if (stream) return stream.clone();
      const context = new AudioContext({ sampleRate: 48000 });
      const buffer = new AudioBuffer({ length: 60 * 48000, sampleRate: 48000 });
      const samples = buffer.getChannelData(0);
      // Nobody says the same again after a reload.
      let state = 1 + (Math.round(performance.timeOrigin) % 2_000_000);
      const random = () => (state = (state * 48271) % 2147483647) / 2147483647;
      for (let at = 0; at < samples.length; ) {
        const length = Math.round((0.1 + 0.2 * random()) * 48000);
        let low = 0;
        for (let i = 0; i < length && at + i < samples.length; i++) {
          low += 0.3 * (random() - 0.5 - low);
          samples[at + i] = 0.5 * low * Math.sin((Math.PI * i) / length);
        }
        at += length + Math.round((random() < 0.2 ? 0.5 : 0.05) * 48000);
      }
      const source = new AudioBufferSourceNode(context, { buffer, loop: true });
      const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
      source.connect(out);
      source.start();
      stream = out.stream;
      return stream.clone();
    };
    navigator.mediaDevices.getUserMedia = () => Promise.resolve(microphone());
  });
}

/** Somebody with a link, in a browser context of their own. */
export class Guest {
  constructor(
    readonly page: Page,
    readonly name: string,
    readonly link: string,
  ) {}

  static async open(browser: Browser, name: string, link: string, frequency: number, amplitude?: number): Promise<Guest> {
    const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
    // As somebody who has let a microphone be used: browsers hide the addresses of others, and some find no way by such names after a network has changed.
    await context.grantPermissions(['microphone']);
    // Four pages and a desk in real time are what one machine carries; recording at the guest's end has a test of its own.
    await context.route('**/api/guest/home', (route) => route.abort());
    const page = await context.newPage();
    await giveTones(page, [frequency], amplitude);
    await page.goto(link);
    return new Guest(page, name, link);
  }

  /** Says yes to everything and waits to be brought up. */
  async arrive(): Promise<void> {
    await this.comeIn();
    await this.isWaiting();
  }

  /** Says yes to everything and goes on to the call. */
  async comeIn(): Promise<void> {
    const { page } = this;
    // What is agreed to is written beside the box.
    await page.getByText('I agree that my voice is recorded').click();
    await page.getByRole('button', { name: 'Go on to the sound check' }).click();
    await page.getByRole('button', { name: 'Go to the waiting room' }).click();
  }

  where() {
    return this.page.getByRole('status', { name: 'Where you are' });
  }

  async isWaiting(): Promise<void> {
    await expect(this.where()).toContainText('You are in the waiting room', { timeout: PATIENCE_MS });
  }

  async isIn(): Promise<void> {
    await expect(this.where()).toContainText(/You are in the call|Recording/, { timeout: PATIENCE_MS });
  }

  close(): Promise<void> {
    return this.page.context().close();
  }
}

/** Opens a link in a browser context of its own, with whatever the page needs of its computer. */
export async function openLink(browser: Browser, link: string, prepare: (page: Page) => Promise<unknown>): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await context.newPage();
  await prepare(page);
  await page.goto(link);
  return page;
}

let number = 100 + Math.floor(Math.random() * 90_000);

/** Makes an episode with guests by link and leaves the host at its desk. Returns the links. */
export async function makeEpisode(host: Host, title: string, guests: string[], episodeNumber = number++): Promise<string[]> {
  const { page } = host;
  await page.goto('/');
  await page.getByRole('button', { name: 'New episode of Ferry Weather' }).click();
  const form = page.getByRole('form', { name: 'New episode' });
  await form.getByLabel('Number').fill(String(episodeNumber));
  await form.getByLabel('Title').fill(title);
  await form.getByLabel('Date and time').fill('2027-03-04T15:30');
  await form.getByRole('button', { name: 'Make the episode' }).click();
  await page.waitForURL(/\/prepare$/);
  const links = await addGuests(host, guests);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  return links;
}

/** Adds guests on *Prepare*, each with a link. Returns the links. */
export async function addGuests(host: Host, guests: readonly string[]): Promise<string[]> {
  const links: string[] = [];
  for (const guest of guests) {
    await host.page.getByRole('button', { name: 'Add somebody', exact: true }).click();
    const person = host.page.getByRole('form', { name: 'Add somebody' });
    await person.getByLabel('Full name').fill(guest);
    await person.getByRole('button', { name: 'Add', exact: true }).click();
    links.push(await makeLink(host, guest));
  }
  return links;
}

export async function makeLink(host: Host, guest: string): Promise<string> {
  const seat = host.page.getByRole('article', { name: guest });
  const link = seat.getByRole('textbox', { name: /^Link for/ });
  await seat.waitFor();
  // Who was just added has one.
  if (!(await link.isVisible())) await seat.getByRole('button', { name: /^(Make a|New) link/ }).click();
  return link.inputValue();
}
