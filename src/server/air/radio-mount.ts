import type { Socket } from 'node:net';
import { OggPages } from './ogg-pages';

/** A new listener begins with this much of what was sent already, as time at the stream's rate, s. */
const BURST_SECONDS = 2;
/** Bytes between titles in a stream that has them inside. */
const TITLE_EVERY = 16_000;
/** A listener who is so much behind has stopped reading, bytes. */
const MOST_WAITING = 2_000_000;

interface Listener {
  socket: Socket;
  /** Bytes until the next title; null for whoever did not ask for titles. */
  untilTitle: number | null;
  told: string;
}

/** One stream of a radio server: what its source sends goes to everybody who listens. */
export class RadioMount {
  readonly mediaType: string;
  readonly kbps: number;
  readonly name: string;
  readonly since = new Date();
  readonly #listeners = new Set<Listener>();
  readonly #pages: OggPages | null;
  #recent: Buffer[] = [];
  #title = '';
  bytes = 0;

  constructor(headers: Record<string, string>) {
    this.mediaType = headers['content-type'] ?? 'application/octet-stream';
    this.kbps = Number(/bitrate=(\d+)/.exec(headers['ice-audio-info'] ?? '')?.[1] ?? 128);
    this.name = Buffer.from(headers['ice-name'] ?? '', 'latin1').toString('utf8');
    this.#pages = this.mediaType === 'application/ogg' ? new OggPages() : null;
  }

  get title(): string {
    return this.#pages ? this.#pages.title : this.#title;
  }

  retitle(title: string): void {
    this.#title = title;
  }

  get listeners(): number {
    return this.#listeners.size;
  }

  take(bytes: Buffer): void {
    this.bytes += bytes.length;
    // Nobody begins in the middle of a page.
    const whole = this.#pages ? this.#pages.push(bytes) : bytes;
    if (whole.length === 0) return;
    this.#recent.push(whole);
    const most = (BURST_SECONDS * this.kbps * 1000) / 8;
    while (this.#recent.length > 1 && this.#recent.reduce((sum, { length }) => sum + length, 0) > most) this.#recent.shift();
    for (const listener of this.#listeners) this.#give(listener, whole);
  }

  listen(socket: Socket, withTitles: boolean): void {
    const titles = withTitles && !this.#pages;
    socket.write(`HTTP/1.1 200 OK\r\ncontent-type: ${this.mediaType}\r\ncache-control: no-store\r\nconnection: close\r\n${titles ? `icy-metaint: ${TITLE_EVERY}\r\n` : ''}\r\n`);
    const listener: Listener = { socket, untilTitle: titles ? TITLE_EVERY : null, told: '' };
    // Pages of a stream mean nothing without its head; of one that had another head only those of now are given.
    if (this.#pages) this.#give(listener, this.#pages.head);
    for (const bytes of this.#pages ? [] : this.#recent) this.#give(listener, bytes);
    this.#listeners.add(listener);
    socket.on('close', () => this.#listeners.delete(listener));
  }

  /** The source is gone: so is what it sent. */
  close(): void {
    for (const { socket } of this.#listeners) socket.end();
  }

  #give(listener: Listener, bytes: Buffer): void {
    const { socket } = listener;
    if (socket.writableLength > MOST_WAITING) return void socket.destroy();
    if (listener.untilTitle === null) return void socket.write(bytes);
    for (let at = 0; at < bytes.length; ) {
      const part = bytes.subarray(at, at + listener.untilTitle);
      socket.write(part);
      at += part.length;
      listener.untilTitle -= part.length;
      if (listener.untilTitle > 0) continue;
      socket.write(this.#titleBlock(listener));
      listener.untilTitle = TITLE_EVERY;
    }
  }

  /** A length in sixteenths and the title, where it is another one. */
  #titleBlock(listener: Listener): Buffer {
    if (listener.told === this.#title) return Buffer.of(0);
    listener.told = this.#title;
    const text = Buffer.from(`StreamTitle='${this.#title.replaceAll("'", '’')}';`, 'utf8');
    const sixteenths = Math.min(255, Math.ceil(text.length / 16));
    const block = Buffer.alloc(1 + 16 * sixteenths);
    block[0] = sixteenths;
    text.copy(block, 1);
    return block;
  }
}
