import { execFileSync } from 'node:child_process';
import http from 'node:http';
import { startRadioServer, type RadioServer } from '../src/server/air/radio-server';

const USER = 'ferry';
const PASSWORD = 'rope & kettle';

/** A radio server somewhere on this machine, that can die and come back, and somebody who listens to it. */
export class Radio {
  #server: RadioServer;
  #port: number;
  readonly #titles: string[] = [];
  #watching: ReturnType<typeof setInterval>;

  private constructor(server: RadioServer) {
    this.#server = server;
    this.#port = server.port;
    this.#watching = setInterval(() => void this.#look(), 200);
  }

  static async start(): Promise<Radio> {
    return new Radio(await startRadioServer(0, USER, PASSWORD));
  }

  readonly user = USER;
  readonly password = PASSWORD;

  get address(): string {
    return `http://127.0.0.1:${this.#port}/show`;
  }

  /** Every title that was shown to listeners, in order. */
  get titles(): readonly string[] {
    return this.#titles;
  }

  async kill(): Promise<void> {
    await this.#server.close();
  }

  async comeBack(): Promise<void> {
    this.#server = await startRadioServer(this.#port, USER, PASSWORD);
  }

  async close(): Promise<void> {
    clearInterval(this.#watching);
    await this.#server.close();
  }

  /** Listens from now on; what is returned stops and says what was heard, mono at 48 kHz, by another program. */
  listen(): () => Promise<Float32Array> {
    const parts: Buffer[] = [];
    const request = http.get({ host: '127.0.0.1', port: this.#port, path: '/show', agent: false }, (response) => response.on('data', (part: Buffer) => parts.push(part)));
    request.on('error', () => undefined);
    return async () => {
      request.destroy();
      const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', '-af', 'pan=mono|c0=0.5*c0+0.5*c1', '-ar', '48000', '-f', 'f32le', 'pipe:1'], { input: Buffer.concat(parts), maxBuffer: 1e9 });
      return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
    };
  }

  async #look(): Promise<void> {
    const mounts = (await fetch(`http://127.0.0.1:${this.#port}/status.json`).then((response) => response.json(), () => [])) as { title: string }[];
    const title = mounts[0]?.title ?? '';
    if (title !== '' && title !== this.#titles.at(-1)) this.#titles.push(title);
  }
}
