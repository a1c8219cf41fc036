import { chromium, type BrowserContext, type Page } from '@playwright/test';
import { expect, Host, test as base } from './host';
import { SoundServer } from './sound-server';

/** A machine with real virtual devices, and a host at it whose microphone and phones are chosen. */
export interface Machine {
  sound: SoundServer;
  host: Host;
  page: Page;
  context: BrowserContext;
}

/** The browser must find the sound server there when it starts. */
/** @param piece frames that a device hands on or takes at once */
async function openMachine(piece: number): Promise<{ machine: Machine; close(): Promise<void>; errors: string[] }> {
  const sound = await SoundServer.start();
  sound.addOutput('mouth', 'Mouth');
  sound.addInput('mic', 'mouth', 'Desk microphone');
  sound.addOutput('phones', 'Headphones');
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    ignoreDefaultArgs: ['--mute-audio'],
    // Larger pieces: what is tested is what arrives, on a machine that stalls.
    args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required', '--disable-background-networking', `--audio-buffer-size=${piece}`],
    env: sound.env as Record<string, string>,
  });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce', baseURL: process.env.BASE_URL });
  await context.grantPermissions(['microphone']);
  const page = await context.newPage();
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  const close = async (): Promise<void> => {
    await browser.close();
    sound.stop();
  };
  return { machine: { sound, host: new Host(page), page, context }, close, errors };
}

export const test = base.extend<{ machine: Machine; piece: number }>({
  piece: [2048, { option: true }],
  machine: async ({ piece }, use) => {
    const { machine, close, errors } = await openMachine(piece);
    try {
      await use(machine);
    } finally {
      await close();
    }
    expect(errors).toEqual([]);
  },
});

/** Chooses microphone and phones in Prepare. */
export async function chooseMySound({ page }: Machine): Promise<void> {
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  await page.getByLabel('Microphone', { exact: true }).selectOption({ label: 'Desk microphone' });
  await page.getByLabel('Phones', { exact: true }).selectOption({ label: 'Headphones' });
}

/** Adds somebody by another program on two cables; what the step says in the end. */
export async function addLine({ page }: Pick<Machine, 'page'>, name: string, input: string, output: string): Promise<string> {
  await page.getByRole('button', { name: 'Add somebody by another program' }).click();
  const form = page.getByRole('form', { name: 'Add somebody by another program' });
  await form.getByLabel('Who it is').fill(name);
  await form.getByLabel('I hear them by').selectOption({ label: input });
  await form.getByLabel('They hear me by').selectOption({ label: output });
  await form.getByRole('button', { name: 'Connect' }).click();
  const status = form.getByRole('status');
  await expect(status).not.toContainText('Sending', { timeout: 30_000 });
  const words = await status.innerText();
  await form.getByRole('button', { name: /^(Done|Later)$/ }).click();
  return words;
}

export { expect };
