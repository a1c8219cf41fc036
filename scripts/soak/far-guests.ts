import { createServer, connect, type AddressInfo, type Server } from 'node:net';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, type Browser, type Page } from '@playwright/test';
import { FarNetwork } from '../../e2e/far-network';
import { giveTones, Guest } from '../../e2e/guests';

/** Guests and desk know each other's addresses; names that are only resolved on one network (RFC 6762) do not reach another. */
export const PLAIN_ADDRESSES = '--disable-features=WebRtcHideLocalIpsWithMdns';

/** What may happen to a guest in a call that lasts. */
export type Mishap = 'reload' | 'network';

/** A guest with a browser, and where we may make one, a network of their own whose plug can be pulled. */
export class FarGuest {
  #closed = false;

  private constructor(
    readonly guest: Guest,
    private readonly network: FarNetwork | null,
    private readonly browser: Browser,
    private readonly door: Server | null,
    private readonly folder: string,
  ) {}

  static async open(name: string, link: string, frequency: number): Promise<FarGuest> {
    const folder = mkdtempSync(join(tmpdir(), 'far-guest-'));
    const network = FarNetwork.make();
    const address = new URL(link);
    const door = network ? await openDoor(network.machine, Number(address.port)) : null;
    if (network) address.host = `${network.machine}:${(door!.address() as AddressInfo).port}`;
    const browser = await chromium.launch({
      executablePath: network ? network.wrap(folder, '/usr/bin/chromium') : '/usr/bin/chromium',
      // A page from another machine has a microphone only where it comes encrypted; here nothing leaves the machine.
      args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required', '--disable-background-networking', '--no-first-run', PLAIN_ADDRESSES, `--unsafely-treat-insecure-origin-as-secure=${address.origin}`],
    });
    const context = await browser.newContext({ viewport: { width: 390, height: 844 }, reducedMotion: 'reduce' });
    // Who may not hear is not told of a machine's other networks (RFC 8828).
    await context.grantPermissions(['microphone'], { origin: address.origin });
    await context.addInitScript('globalThis.__name = (made) => made');
    const page = await context.newPage();
    await giveTones(page, [frequency]);
    // A network that has only just come up breaks off what was begun before.
    await expect(async () => void (await page.goto(address.href))).toPass();
    return new FarGuest(new Guest(page, name, address.href), network, browser, door, folder);
  }

  get page(): Page {
    return this.guest.page;
  }

  get mishaps(): Mishap[] {
    return this.network ? ['reload', 'network'] : ['reload'];
  }

  /** Lets it happen, and waits until the guest is back in the call; what their page says where they are not. @param seconds how long the network is away */
  async suffer(mishap: Mishap, seconds: number): Promise<string | null> {
    try {
      if (mishap === 'reload') await this.page.reload();
      else {
        this.network!.plug('out');
        await new Promise((resolve) => setTimeout(resolve, 1000 * seconds));
        this.network!.plug('in');
      }
      await this.guest.isIn();
      return null;
    } catch (error) {
      return this.page.locator('body').innerText().catch(() => (error as Error).message);
    }
  }

  /** Once; after that nothing. */
  async close(): Promise<void> {
    if (this.#closed) return;
    this.#closed = true;
    await this.browser.close().catch(() => undefined);
    this.door?.close();
    this.network?.remove();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** A way for HTTP from a network into this machine, where the product listens for itself alone. */
async function openDoor(host: string, port: number): Promise<Server> {
  const door = createServer((caller) => {
    const inside = connect(port, '127.0.0.1');
    for (const [from, to] of [[caller, inside], [inside, caller]]) {
      from.pipe(to);
      from.on('error', () => to.destroy());
    }
  });
  await new Promise<void>((resolve) => door.listen(0, host, resolve));
  return door;
}
