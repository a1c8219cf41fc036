import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';

/** Another instance of the product on the same database. */
export class SecondServer {
  #process: ChildProcess | null = null;

  private constructor(
    readonly address: string,
    readonly settings: Record<string, string>,
    private readonly within: readonly string[],
  ) {}

  /** @param within a program and its words that start the server, where it is to run in a world of its own */
  static async start(settings: Record<string, string> = {}, within: readonly string[] = []): Promise<SecondServer> {
    const server = new SecondServer(`http://127.0.0.1:${await freePort()}`, settings, within);
    await server.start();
    return server;
  }

  async start(): Promise<void> {
    const { port } = new URL(this.address);
    const [program, ...words] = [...this.within, process.execPath, 'scripts/http-server.mjs', 'start', port];
    this.#process = spawn(program, words, {
      env: { ...process.env, NODE_ENV: 'production', DATABASE_URL: process.env.BROWSER_DATABASE_URL, DEMO: '1', ...this.settings },
      stdio: 'ignore',
    });
    for (let tries = 0; tries < 300; tries++) {
      if (await fetch(`${this.address}/api/health`).then((response) => response.ok, () => false)) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error('The second server did not start.');
  }

  /** Ends it without a word, as a power cut would. */
  async kill(): Promise<void> {
    const process = this.#process;
    if (!process || process.exitCode !== null || process.signalCode !== null) return;
    const ended = new Promise((resolve) => process.once('exit', resolve));
    process.kill('SIGKILL');
    await ended;
  }
}

async function freePort(): Promise<number> {
  const probe = createServer();
  await new Promise<void>((resolve) => probe.listen(0, '127.0.0.1', resolve));
  const { port } = probe.address() as { port: number };
  await new Promise((resolve) => probe.close(resolve));
  return port;
}
