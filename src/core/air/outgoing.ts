import type { PieceFacts } from './broadcast';

/** Sound that is older than this when it could be sent is dropped, whole packets at a time, ms. */
export const MOST_LATE_MS = 5000;
/** A server is never further ahead of the time of day than this, ms: its listeners would be later and later. */
const MOST_AHEAD_MS = 6000;
/** So long after the last sound silence takes its place, ms; and so long until the desk is given up. */
export const SILENCE_AFTER_MS = 1500;
export const DESK_GONE_AFTER_MS = 60_000;
const SAMPLES_A_MS = 48;

export interface ComingPiece extends PieceFacts {
  packets: Uint8Array[];
  /** When it came, ms of this machine's clock. */
  atMs: number;
}

export interface ComingTitle {
  id: string;
  text: string;
  session: number;
  sample: number;
}

/** What is to be sent next: titles where they belong between packets. */
export type Outgoing = { of: 'sound'; packets: Uint8Array[] } | { of: 'title'; title: ComingTitle } | { of: 'silence'; packets: number };

interface Waiting {
  packet: Uint8Array;
  session: number;
  sample: number;
  /** When its last sample was heard, ms of this machine's clock. */
  heardMs: number;
}

/**
 * What has come of one broadcast and is not sent yet. Deterministic: whoever calls says what time it is, in ms of one clock.
 */
export class OutgoingStream {
  readonly #packetSamples: number;
  #waiting: Waiting[] = [];
  #titles: ComingTitle[] = [];
  #lastCameMs: number;
  /** Since the server took the stream: when that was, and how much it was sent, ms. */
  #since: { ms: number; sentMs: number } | null = null;
  #hasSent = false;
  #sent: { session: number; sample: number; atMs: number } | null = null;
  #droppedSamples = 0;
  #silentSamples = 0;

  constructor(packetSamples: number, nowMs: number) {
    this.#packetSamples = packetSamples;
    this.#lastCameMs = nowMs;
  }

  push(piece: ComingPiece): void {
    const heardMs = piece.atMs - piece.lateMs;
    const each = piece.samples / piece.packets.length;
    piece.packets.forEach((packet, k) => {
      const after = piece.packets.length - 1 - k;
      this.#waiting.push({ packet, session: piece.session, sample: piece.from + Math.round((k + 1) * each), heardMs: heardMs - (after * each) / SAMPLES_A_MS });
    });
    this.#lastCameMs = Math.max(this.#lastCameMs, piece.atMs);
  }

  say(title: ComingTitle): void {
    this.#titles.push(title);
  }

  /** A server takes the stream from now on. */
  connected(nowMs: number): void {
    this.#since = { ms: nowMs, sentMs: 0 };
    this.#hasSent = false;
  }

  lost(): void {
    this.#since = null;
  }

  /** Leaves out what is too old to be sent; what waits for a server gets old too. */
  forgetOld(nowMs: number): void {
    const before = this.#waiting.length;
    this.#waiting = this.#waiting.filter(({ heardMs }) => nowMs - heardMs <= MOST_LATE_MS);
    this.#droppedSamples += (before - this.#waiting.length) * this.#packetSamples;
  }

  /** Everything that is to be sent now, in order. */
  take(nowMs: number): Outgoing[] {
    this.forgetOld(nowMs);
    const since = this.#since;
    if (!since) return [];
    const out: Outgoing[] = [];
    const packetMs = this.#packetSamples / SAMPLES_A_MS;
    let run: Uint8Array[] = [];
    const endRun = () => {
      if (run.length > 0) out.push({ of: 'sound', packets: run });
      run = [];
    };
    for (const { packet, session, sample } of this.#waiting) {
      if (since.sentMs + packetMs > nowMs - since.ms + MOST_AHEAD_MS) {
        this.#droppedSamples += this.#packetSamples;
        continue;
      }
      while (this.#titles.length > 0 && isDue(this.#titles[0], session, sample)) {
        endRun();
        out.push({ of: 'title', title: this.#titles.shift()! });
      }
      run.push(packet);
      since.sentMs += packetMs;
      this.#sent = { session, sample, atMs: nowMs };
    }
    endRun();
    this.#hasSent ||= this.#waiting.length > 0;
    this.#waiting = [];
    // The desk is away: the server would take a stream that stands still for lost. What stays ahead is what there was of it.
    const behindMs = nowMs - this.#lastCameMs > SILENCE_AFTER_MS && this.#hasSent ? nowMs - since.ms - since.sentMs : 0;
    const silent = Math.floor(behindMs / packetMs);
    if (silent > 0) {
      since.sentMs += silent * packetMs;
      this.#silentSamples += silent * this.#packetSamples;
      out.push({ of: 'silence', packets: silent });
    }
    return out;
  }

  /** Nothing came of the desk for so long, ms. */
  quietMs(nowMs: number): number {
    return nowMs - this.#lastCameMs;
  }

  get facts(): { sent: { session: number; sample: number; atMs: number } | null; bufferedMs: number; droppedMs: number; silenceMs: number } {
    return {
      sent: this.#sent,
      bufferedMs: Math.round((this.#waiting.length * this.#packetSamples) / SAMPLES_A_MS),
      droppedMs: Math.round(this.#droppedSamples / SAMPLES_A_MS),
      silenceMs: Math.round(this.#silentSamples / SAMPLES_A_MS),
    };
  }
}

/** A title of an earlier audio thread is due at once: its samples are no more counted. */
const isDue = (title: ComingTitle, session: number, sample: number): boolean => title.session !== session || title.sample <= sample;
