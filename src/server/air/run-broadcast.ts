import { randomInt } from 'node:crypto';
import type pg from 'pg';
import type { BroadcastState } from '@/core/air/broadcast';
import { DESK_GONE_AFTER_MS, OutgoingStream, type Outgoing } from '@/core/air/outgoing';
import { PACKET_SAMPLES, splitPackets } from '@/core/air/packets';
import { streamWriter, type StreamWriter } from '@/core/air/stream-writer';
import { lastSentTitle, noteProgress, noteTitleSent, takePieces, titlesAfter, type BroadcastWork } from './broadcasts';
import { openSource, SourceRefused, type SourceConnection } from './source-connection';
import { passwordOf } from './stations';
import { sendTitle } from './title-request';
import { targetOf, type Target } from './target';

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 15_000;
/** A connection that held so long had begun well. */
const WELL_MS = 30_000;
const NOTE_EVERY_MS = 500;
/** So long a stream whose end was asked for may still be sent what has come. */
const END_WITHIN_MS = 3000;

const now = (): number => performance.now();

/**
 * Sends one broadcast: takes what the desk has sent from the database, and gives it to the station's server for as long as both
 * are there. A server that is lost is tried again, later each time; a desk that is lost is waited for with silence.
 */
export class BroadcastRun {
  readonly #pool: pg.Pool;
  readonly #work: BroadcastWork;
  readonly #stream: OutgoingStream;
  #connection: SourceConnection | null = null;
  #writer: StreamWriter | null = null;
  #target: Target | null = null;
  #password = '';
  #state: BroadcastState = 'waiting';
  #reason = '';
  #bytes: number;
  #reconnections: number;
  #title = '';
  #lastTitle = '0';
  /** Title requests go one after another. */
  #titling: Promise<unknown> = Promise.resolve();
  #pause = FIRST_PAUSE_MS;
  #connectedMs = 0;
  #tryAt = 0;
  #connecting = false;
  #wasOn = false;
  #endingSince: number | null = null;
  #notedMs = -Infinity;
  #turn: Promise<void> = Promise.resolve();
  /** Since when the database tells what comes from the desk. */
  #readableSince = now();
  #readable = true;
  ended = false;

  constructor(pool: pg.Pool, work: BroadcastWork) {
    this.#pool = pool;
    this.#work = work;
    this.#stream = new OutgoingStream(PACKET_SAMPLES[work.settings.coding.codec], now());
    this.#bytes = work.bytes;
    this.#reconnections = work.reconnections;
  }

  async begin(): Promise<void> {
    const { id, text } = await lastSentTitle(this.#pool, this.#work.id);
    this.#lastTitle = id;
    this.#title = text;
    // One that an earlier sender had on the air is on it again, and that counts.
    this.#wasOn = this.#work.bytes > 0;
  }

  /** Takes what has come and sends what can be sent; one turn at a time, whatever became of the one before. */
  step(ending: boolean): Promise<void> {
    const turn = this.#turn.then(() => this.#step(ending));
    this.#turn = turn.catch(() => undefined);
    return turn;
  }

  /** Sends what there is; silence where nothing comes. */
  send(): void {
    if (!this.ended) this.#send();
  }

  /** The sender ends: the server is told at once, and another sender may go on. */
  stop(): void {
    this.ended = true;
    this.#connection?.end();
    this.#connection = null;
  }

  async #step(ending: boolean): Promise<void> {
    if (this.ended) return;
    const { id } = this.#work;
    const wasReadable = this.#readable;
    this.#readable = false;
    for (const piece of await takePieces(this.#pool, id)) this.#stream.push({ ...piece, packets: splitPackets(piece.packets), atMs: now() - piece.agoMs });
    for (const title of await titlesAfter(this.#pool, id, this.#lastTitle)) {
      this.#lastTitle = title.id;
      this.#stream.say(title);
    }
    this.#readable = true;
    if (!wasReadable) this.#readableSince = now();
    this.#send();
    if (ending) this.#endingSince ??= now();
    const over = this.#endingSince !== null && (this.#stream.facts.bufferedMs === 0 || now() - this.#endingSince > END_WITHIN_MS);
    if (over) return this.#end('');
    // A desk cannot be heard while the database is away.
    if (Math.min(this.#stream.quietMs(now()), now() - this.#readableSince) > DESK_GONE_AFTER_MS) return this.#end('Nothing came from the desk for a minute.');
    if (!this.#connection && !this.#connecting && now() >= this.#tryAt && this.#stream.facts.bufferedMs > 0) void this.#connect();
    if (now() - this.#notedMs >= NOTE_EVERY_MS) await this.#note();
  }

  #send(): void {
    const out = this.#stream.take(now());
    const [connection, writer] = [this.#connection, this.#writer];
    if (!connection || !writer) return;
    for (const one of out) {
      const bytes = this.#bytesOf(one, writer);
      if (bytes.length === 0) continue;
      this.#bytes += bytes.length;
      if (!connection.write(bytes)) return this.#lost(connection, new SourceRefused('The server has stopped reading.', false));
    }
    const silent = out.at(-1)?.of === 'silence';
    if (out.length > 0) this.#say(silent ? 'silent' : 'on', silent ? 'The desk is away; the listeners hear silence.' : '');
  }

  #bytesOf(one: Outgoing, writer: StreamWriter): Uint8Array {
    if (one.of === 'sound') return writer.sound(one.packets);
    if (one.of === 'title') {
      this.#title = one.title.text;
      const inStream = writer.retitle(this.#title);
      this.#tellTitle(one.title.id);
      return inStream;
    }
    const packet = writer.silence();
    return packet ? writer.sound(new Array<Uint8Array>(one.packets).fill(packet)) : new Uint8Array(0);
  }

  /** In the stream it has just been told; for MP3 a request tells it, after those before. */
  #tellTitle(id: string | null): void {
    const { coding } = this.#work.settings;
    const [target, password, title] = [this.#target, this.#password, this.#title];
    this.#titling = this.#titling
      .then(() => (coding.codec === 'mp3' && target ? sendTitle(target, this.#work.settings, password, title) : undefined))
      .then(() => (id === null ? undefined : noteTitleSent(this.#pool, this.#work.id, id)))
      .catch((error: Error) => {
        if (this.#connection) this.#reason = error.message;
      });
  }

  async #connect(): Promise<void> {
    this.#connecting = true;
    this.#say(this.#wasOn ? 'away' : 'connecting', this.#reason);
    try {
      const { station, settings } = this.#work;
      if (station === null) throw new SourceRefused('The station was removed.', true);
      this.#password = await passwordOf(this.#pool, station, settings).catch((error: Error) => Promise.reject(new SourceRefused(error.message, true)));
      const target = await targetOf(settings.address).catch((error: Error) => Promise.reject(new SourceRefused(error.message, false)));
      this.#target = target;
      const connection = await openSource(target, settings, this.#password);
      if (this.ended) return connection.end();
      this.#taken(connection);
    } catch (error) {
      const refused = error instanceof SourceRefused ? error : new SourceRefused((error as Error).message, false);
      if (refused.final) return this.#end(refused.message);
      this.#later(refused.message);
    } finally {
      this.#connecting = false;
    }
  }

  #taken(connection: SourceConnection): void {
    this.#connection = connection;
    this.#writer = streamWriter(this.#work.settings.coding, randomInt(2 ** 31));
    this.#connectedMs = now();
    if (this.#wasOn) this.#reconnections++;
    this.#wasOn = true;
    this.#stream.connected(this.#connectedMs);
    const head = this.#writer.begin(this.#title);
    if (head.length > 0) connection.write(head);
    this.#bytes += head.length;
    this.#say('on', '');
    this.#send();
    // A server that was away has forgotten what it was told.
    if (this.#title !== '') this.#tellTitle(null);
    void connection.over.then((reason) => this.#lost(connection, reason));
  }

  #lost(connection: SourceConnection, reason: SourceRefused): void {
    if (this.#connection !== connection || this.ended) return;
    this.#connection = null;
    connection.end();
    this.#stream.lost();
    if (now() - this.#connectedMs > WELL_MS) this.#pause = FIRST_PAUSE_MS;
    if (reason.final) return void this.#end(reason.message);
    this.#later(reason.message);
  }

  #later(reason: string): void {
    this.#say('away', reason);
    this.#tryAt = now() + this.#pause;
    this.#pause = Math.min(LONGEST_PAUSE_MS, 2 * this.#pause);
  }

  async #end(reason: string): Promise<void> {
    if (this.ended) return;
    this.ended = true;
    if (this.#connection && this.#writer) {
      this.#connection.write(this.#writer.end());
      this.#connection.end();
    }
    this.#connection = null;
    this.#say('ended', reason);
    await this.#note();
  }

  #say(state: BroadcastState, reason: string): void {
    if (state !== this.#state) this.#notedMs = -Infinity;
    this.#state = state;
    this.#reason = reason;
  }

  async #note(): Promise<void> {
    this.#notedMs = now();
    const { sent, bufferedMs, droppedMs, silenceMs } = this.#stream.facts;
    const { droppedMs: droppedBefore, silenceMs: silentBefore } = this.#work;
    await noteProgress(this.#pool, this.#work.id, {
      state: this.#state,
      reason: this.#reason,
      on: this.#connection !== null,
      bytes: this.#bytes,
      reconnections: this.#reconnections,
      droppedMs: droppedBefore + droppedMs,
      silenceMs: silentBefore + silenceMs,
      bufferedMs: Math.round(bufferedMs + (8 * (this.#connection?.waiting() ?? 0)) / this.#work.settings.coding.kbps),
      sent: sent && { session: sent.session, sample: sent.sample, agoMs: now() - sent.atMs },
    });
  }
}
