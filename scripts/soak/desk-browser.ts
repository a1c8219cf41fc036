import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { freePort } from '../ports.mjs';
import { Devtools, type Target } from './devtools';
import { PLAIN_ADDRESSES } from './far-guests';

/** A browser answers at its port when it has begun. */
const BEGIN_TRIES = 100;
const TRY_EVERY_MS = 200;
/** The host is never asked: whoever may not hear is not told of a machine's other networks (RFC 8828). */
const PREFERENCES = { profile: { default_content_setting_values: { media_stream_mic: 1 } } };

/**
 * The browser of a desk that lasts for hours, with a disk of its own as a host's has. Its page is driven at the beginning and at the end,
 * and looked at in between: whoever drives a page has the browser keep everything it sends, and what grew would be that.
 */
export class DeskBrowser {
  /** What the page said was wrong while it was driven; in between nobody hears it, and a page that is gone ends the run. */
  readonly errors: string[] = [];
  #visits: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly chrome: ChildProcess,
    private readonly port: number,
    private readonly profile: string,
  ) {
    // Whoever is broken off leaves none behind: it would go on with its call, beside the next.
    process.once('exit', () => void chrome.kill('SIGKILL'));
  }

  static async open(): Promise<DeskBrowser> {
    const profile = mkdtempSync(join(tmpdir(), 'soak-'));
    mkdirSync(join(profile, 'Default'));
    writeFileSync(join(profile, 'Default', 'Preferences'), JSON.stringify(PREFERENCES));
    const port = await freePort();
    const words = ['--headless=new', '--no-sandbox', '--autoplay-policy=no-user-gesture-required', '--disable-background-networking', '--no-first-run', '--disable-dev-shm-usage', '--disable-gpu', '--window-size=1280,800', '--force-prefers-reduced-motion', PLAIN_ADDRESSES, `--user-data-dir=${profile}`, `--remote-debugging-port=${port}`, 'about:blank'];
    const browser = new DeskBrowser(spawn('/usr/bin/chromium', words, { stdio: 'ignore' }), port, profile);
    for (let tries = 0; !(await browser.#answers()); tries++) {
      if (tries === BEGIN_TRIES) throw new Error('The desk’s browser did not start.');
      await new Promise((resolve) => setTimeout(resolve, TRY_EVERY_MS));
    }
    return browser;
  }

  /** Drives the page, and lets go of it. One after another. */
  visit<Result>(act: (page: Page) => Promise<Result>): Promise<Result> {
    return this.#inTurn(() => this.#visit(act));
  }

  /** Looks at the page, without leaving a trace in it. */
  look<Result>(act: (browser: Devtools, page: Target, all: Target[]) => Promise<Result>): Promise<Result> {
    return this.#inTurn(async () => {
      const devtools = await Devtools.connect(this.port);
      try {
        const all = await devtools.targets();
        return await act(devtools, all[0], all);
      } finally {
        devtools.close();
      }
    });
  }

  #inTurn<Result>(act: () => Promise<Result>): Promise<Result> {
    const turn = this.#visits.then(act);
    this.#visits = turn.catch(() => undefined);
    return turn;
  }

  async close(): Promise<void> {
    const ended = new Promise((resolve) => this.chrome.once('exit', resolve));
    this.chrome.kill();
    await ended;
    rmSync(this.profile, { recursive: true, force: true, maxRetries: 5 });
  }

  async #visit<Result>(act: (page: Page) => Promise<Result>): Promise<Result> {
    const browser = await chromium.connectOverCDP(`http://127.0.0.1:${this.port}`);
    try {
      const [page] = browser.contexts()[0].pages();
      page.on('console', (message) => message.type() === 'error' && this.errors.push(message.text()));
      page.on('pageerror', (error) => this.errors.push(error.message));
      // What a test asks of a page is translated, and asks for this.
      await page.evaluate('globalThis.__name = (made) => made');
      return await act(page);
    } finally {
      await browser.close();
    }
  }

  #answers(): Promise<boolean> {
    return fetch(`http://127.0.0.1:${this.port}/json/version`).then((response) => response.ok, () => false);
  }
}
