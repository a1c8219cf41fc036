import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';
import { expect } from './host';

const LONG_MS = 120_000;

/** Devices are handed out without a question nobody could answer, and calls may go over loopback. */
const PREFERENCES = {
  'media.navigator.permission.disabled': true,
  'media.peerconnection.ice.loopback': true,
  'media.peerconnection.ice.obfuscate_host_addresses': false,
  'media.autoplay.default': 0,
  // Larger pieces: what is tested is what arrives, on a machine that stalls. With its own, 7 % of what a microphone said was lost beside a full machine.
  'media.cubeb_latency_mtg_frames': 4096,
  'ui.prefersReducedMotion': 1,
  'browser.download.folderList': 2,
  'browser.helperApps.alwaysAsk.force': false,
  'browser.download.always_ask_before_handling_new_types': false,
};

/** Debian's Firefox. Its AudioContext runs only where a sound server is. */
export class Firefox {
  private constructor(
    readonly browser: Browser,
    readonly folder: string,
  ) {}

  static async start(env: NodeJS.ProcessEnv, width: number, height: number): Promise<Firefox> {
    const folder = mkdtempSync(join(tmpdir(), 'firefox-'));
    const browser = await puppeteer.launch({
      browser: 'firefox',
      executablePath: '/usr/bin/firefox-esr',
      headless: true,
      // A viewport that is set later needs a newer Firefox than some systems have.
      defaultViewport: null,
      args: [`--width=${width}`, `--height=${height}`],
      env: { ...env, HOME: folder },
      extraPrefsFirefox: { ...PREFERENCES, 'browser.download.dir': folder },
    });
    return new Firefox(browser, folder);
  }

  async open(url: string): Promise<FirefoxPage> {
    const page = await this.browser.newPage();
    const one = new FirefoxPage(page);
    await page.goto(url);
    return one;
  }

  /** Waits for a file that is downloaded; gives its path. */
  async downloaded(ending: string): Promise<string> {
    const whole = (): string | undefined => {
      const names = readdirSync(this.folder);
      return names.some((name) => name.endsWith('.part')) ? undefined : names.find((name) => name.endsWith(ending));
    };
    await expect.poll(whole, { timeout: LONG_MS }).toBeDefined();
    return join(this.folder, whole()!);
  }

  async close(): Promise<void> {
    // Asked to close, it would ask whether pages may be left, and wait for an answer.
    this.browser.process()!.kill('SIGKILL');
    await this.browser.disconnect();
    rmSync(this.folder, { recursive: true, force: true, maxRetries: 5 });
  }
}

/** What somebody does in a page by the names that are read there; pressed by real input, which a page counts as a wish. */
export class FirefoxPage {
  /** What the page complained of. */
  readonly errors: string[] = [];

  constructor(readonly page: Page) {
    page.on('pageerror', (error) => this.errors.push(String(error)));
    page.on('console', (message) => {
      if (message.type() === 'error') this.errors.push(message.text());
    });
  }

  async press(name: string, role = 'button'): Promise<void> {
    // Found by the browser itself: what is put into the page to look there would need eval, which its policy refuses.
    await this.#click(() => this.page.$(`aria/${name}[role="${role}"]`), name);
  }

  /** For what is no control itself, as the words beside a box. */
  async pressText(words: string, among = 'body :not(script)'): Promise<void> {
    const find = (text: string, selector: string) => [...document.querySelectorAll(selector)].findLast((one) => one.textContent.includes(text)) ?? null;
    await this.#click(async () => (await this.page.evaluateHandle(find, words, among)).asElement() as ElementHandle<Element> | null, words);
  }

  /** Chooses an option of a list by its words; waits until it is offered. */
  async choose(label: string, option: string): Promise<void> {
    await expect(async () => {
      const list = (await this.page.$(`aria/${label}[role="combobox"]`)) as ElementHandle<HTMLSelectElement> | null;
      const value = await list!.evaluate((one, words) => [...one.options].find(({ text }) => text === words)!.value, option);
      await list!.select(value);
    }).toPass({ timeout: 30_000 });
  }

  async #click(find: () => Promise<ElementHandle<Element> | null>, what: string): Promise<void> {
    await expect(async () => {
      const found = await find();
      if (!found) throw new Error(`${what} is not there.`);
      // It is pressed where it was found: what moves meanwhile, or lies under something else, is looked for again.
      const stays = await found.evaluate(async (one) => {
        one.scrollIntoView({ block: 'nearest' });
        const before = one.getBoundingClientRect();
        await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
        const now = one.getBoundingClientRect();
        const top = document.elementFromPoint(now.x + now.width / 2, now.y + now.height / 2);
        return before.x === now.x && before.y === now.y && (one.contains(top) || (top?.contains(one) ?? false));
      });
      if (!stays) throw new Error(`${what} does not stay where it is.`);
      await found.click();
    }).toPass({ timeout: 30_000 });
  }

  words(): Promise<string> {
    return this.page.evaluate(() => document.body.innerText);
  }

  async says(what: string | RegExp, timeout = LONG_MS): Promise<void> {
    const poll = expect.poll(() => this.words(), { timeout });
    await (typeof what === 'string' ? poll.toContain(what) : poll.toMatch(what));
  }
}
