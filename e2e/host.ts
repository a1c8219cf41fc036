import { test as base, expect, type Page } from '@playwright/test';
import { faultsIn } from './accessible';
import { calmMachine, watchMachine } from './calm';

/** What a host does, by the names a host reads. */
export class Host {
  constructor(readonly page: Page) {}

  /** Opens the demo episode's desk with no call running. */
  async openDesk(): Promise<void> {
    await this.page.goto('/');
    const open = this.page.getByRole('article', { name: 'The last chain ferry' }).getByRole('link', { name: 'Open the desk' });
    const [, episode] = /episodes\/([^/]+)/.exec((await open.getAttribute('href'))!)!;
    // What another test chose for this episode is kept by it.
    await this.page.request.put(`/api/episodes/${episode}/habits`, { headers: { origin: new URL(this.page.url()).origin }, data: {} });
    await open.click();
    const end = this.page.getByRole('button', { name: 'End call' });
    // Until the desk is this window's nothing can be started; a call that ran is then taken up by itself.
    await expect(end.or(this.page.getByRole('button', { name: 'Start call', disabled: false }))).toBeVisible();
    if (await end.isVisible()) await this.endCall();
  }

  async startCall(): Promise<void> {
    await this.page.getByRole('button', { name: 'Start call' }).click();
    await expect(this.page.getByRole('button', { name: 'End call' })).toBeVisible();
  }

  async endCall(): Promise<void> {
    await this.page.getByRole('button', { name: 'End call' }).click();
    await expect(this.page.getByRole('button', { name: 'Start call' })).toBeVisible();
  }

  async openSettings(): Promise<void> {
    await this.page.getByRole('link', { name: 'Show settings' }).click();
    await expect(this.page.getByRole('region', { name: 'Recording' })).toBeVisible();
  }

  /** Has the mixes recorded beside the voices in this episode, and stays in its settings. */
  async recordMixes(): Promise<void> {
    await this.openSettings();
    await this.page.getByText('Record the mixes too').click();
    await expect(this.page.getByRole('checkbox', { name: /^Record the mixes too/ })).toBeChecked();
  }

  /** What goes in and out beside the people. */
  async openInAndOut(): Promise<void> {
    await this.page.getByRole('link', { name: 'Hearing', exact: true }).click();
    await this.page.getByRole('link', { name: 'In and out' }).click();
    await expect(this.page.getByRole('region', { name: 'Outlets' })).toBeVisible();
  }

  /** Does something by its name, through the sheet of actions. */
  async act(typed: string): Promise<void> {
    await this.page.keyboard.press('?');
    const field = this.page.getByRole('combobox', { name: 'What do you want to do?' });
    await expect(field).toBeFocused();
    await this.page.keyboard.type(typed);
    await this.page.keyboard.press('Enter');
    await expect(field).toBeHidden();
  }

  /** A finger that goes down and up at once, however busy the machine is: what lasts longer holds, and does not latch. */
  async tap(key: string): Promise<void> {
    const { keyboard } = this.page;
    await Promise.all([keyboard.down(key), keyboard.up(key)]);
  }

  recording() {
    return this.page.getByRole('group', { name: 'Recording' });
  }

  async record(): Promise<void> {
    await this.page.getByRole('button', { name: 'Record', exact: true }).click();
    await expect(this.recording().getByRole('button', { name: 'Stop' })).toBeEnabled();
  }

  /** What is recorded so far, in seconds, by the desk's own clock. */
  async recordedSeconds(): Promise<number> {
    return toSeconds(await this.recording().getByRole('status').innerText());
  }

  /** Waits until that many seconds are recorded. */
  async untilRecorded(seconds: number): Promise<void> {
    await expect.poll(() => this.recordedSeconds(), { timeout: 60_000 }).toBeGreaterThanOrEqual(seconds);
  }

  async stop(): Promise<void> {
    await this.recording().getByRole('button', { name: 'Stop' }).click();
    await expect(this.recording()).toContainText(/Take \d+ is safe/, { timeout: 240_000 });
  }

  async openNewestTake(): Promise<void> {
    await this.page.getByRole('link', { name: 'Takes', exact: true }).click();
    await this.page.getByRole('main').getByRole('link', { name: /^Take \d+/ }).first().click();
    await expect(this.page.getByRole('button', { name: 'Play all' })).toBeVisible();
  }

  lane(name: string) {
    return this.page.getByRole('article', { name, exact: true });
  }

  pad(name: string) {
    // Its name goes on with what is left of it and its key.
    return this.page.getByRole('region', { name: 'Sounds' }).getByRole('button', { name: new RegExp(`^${name}`) });
  }

  watch() {
    return this.page.getByRole('region', { name: 'Watch' });
  }
}

/** `00:01:05` at the beginning of a text. */
function toSeconds(text: string): number {
  const match = /(\d+):(\d\d):(\d\d)/.exec(text);
  return match ? Number(match[1]) * 3600 + Number(match[2]) * 60 + Number(match[3]) : 0;
}

/** States that were looked at already, each once in a run. */
const looked = new Set<string>();

/** In whatever state a test leaves its page, it has nothing that shuts somebody out (WCAG 2, levels A and AA). */
export async function everybodyCanUse(page: Page): Promise<void> {
  if (page.isClosed() || !page.url().startsWith('http')) return;
  const room = new URL(page.url()).pathname.replaceAll(/[0-9a-f]{8}-[0-9a-f-]{27}|\/join\/.*/g, '…');
  const [calls, takes, dialogs, alerts] = await Promise.all([
    page.getByRole('button', { name: 'End call' }).count(),
    page.getByRole('button', { name: 'Stop', exact: true }).count(),
    page.getByRole('dialog').count(),
    page.getByRole('alert').count(),
  ]);
  const state = `${room} call ${calls} take ${takes} dialogs ${dialogs} alerts ${Math.min(1, alerts)}`;
  if (looked.has(state)) return;
  looked.add(state);
  expect(await faultsIn(page), state).toEqual([]);
}

/** A host at the demo's desk. The test fails when the page wrote an error to the console. */
export const test = base.extend<{ host: Host; tolerated: RegExp[]; calm: void }>({
  calm: [
    async ({}, use, testInfo) => {
      // What a screen shows is the same on a busy machine.
      if (testInfo.project.name !== 'screens') await calmMachine();
      const taken = watchMachine();
      await use();
      testInfo.annotations.push({ type: 'taken by other machines', description: `${Math.round(100 * taken())} %` });
    },
    { auto: true, timeout: 700_000 },
  ],
  tolerated: [[], { option: true }],
  host: async ({ page, tolerated }, use) => {
    const errors: string[] = [];
    page.on('console', (message) => {
      if (message.type() === 'error') errors.push(`${message.text()} ${message.location().url}`);
    });
    page.on('pageerror', (error) => errors.push(error.message));
    let crashed = false;
    page.on('crash', () => (crashed = true));
    await use(new Host(page));
    // A server of the test's own is gone by now: what the page says of that is no fault.
    expect(errors.filter((text) => !tolerated.some((pattern) => pattern.test(text)))).toEqual([]);
    if (!crashed) await everybodyCanUse(page);
  },
});

export { expect };
