import { PIECE_SECONDS } from './packets';
import { MOST_LATE_MS } from './outgoing';

const SAMPLES_A_MS = 48;
/** As much as the server takes at once, samples: less than what would be too old. */
const MOST_AT_ONCE = (MOST_LATE_MS - 500) * SAMPLES_A_MS;

/** Whole packets of a stream on their way to the server. */
export interface Piece {
  number: number;
  /** The first sample, by the session's clock. */
  from: number;
  samples: number;
  packets: Uint8Array[];
}

/**
 * What a desk has coded for the air and not sent yet. A piece goes out by itself as long as the way is quick; on a slow way everything
 * that waits goes at once, so that an answer that takes longer than a piece lasts costs delay and no sound.
 */
export class PieceQueue {
  readonly #packetSamples: number;
  readonly #waiting: Piece[] = [];
  /** It may have arrived although no answer came: it is sent again as it is. */
  #tried: Piece | null = null;
  #ready: Uint8Array[] = [];
  #readyFrom = 0;
  #number: number;
  #droppedSamples = 0;

  /** @param packetSamples samples in a packet @param number of the first piece */
  constructor(packetSamples: number, number: number) {
    this.#packetSamples = packetSamples;
    this.#number = number;
  }

  /** The next packets; `from` is the first sample of the first of them: after a gap a new piece begins. */
  push(packets: readonly Uint8Array[], from: number): void {
    const samples = this.#ready.length * this.#packetSamples;
    if (samples > 0 && from !== this.#readyFrom + samples) this.#waiting.push({ number: this.#number++, from: this.#readyFrom, samples, packets: this.#ready.splice(0) });
    if (this.#ready.length === 0) this.#readyFrom = from;
    this.#ready.push(...packets);
    const whole = Math.round((PIECE_SECONDS * 1000 * SAMPLES_A_MS) / this.#packetSamples);
    while (this.#ready.length >= whole) {
      const samples = whole * this.#packetSamples;
      this.#waiting.push({ number: this.#number++, from: this.#readyFrom, samples, packets: this.#ready.splice(0, whole) });
      this.#readyFrom += samples;
    }
  }

  /** Leaves out what nobody would send any more, whole pieces at a time. @param heard sample after the newest that was heard */
  forgetOld(heard: number): void {
    while (this.#waiting.length > 1 && lateMs(this.#waiting[0], heard) > MOST_LATE_MS) this.#droppedSamples += this.#waiting.shift()!.samples;
  }

  /** What is to be sent now, the same until it was; null for nothing. */
  next(): Piece | null {
    if (this.#tried) return this.#tried;
    const first = this.#waiting.shift();
    if (!first) return null;
    const piece = { ...first, packets: [...first.packets] };
    for (let more = this.#waiting[0]; more && more.from === piece.from + piece.samples && piece.samples + more.samples <= MOST_AT_ONCE; more = this.#waiting[0]) {
      piece.packets.push(...more.packets);
      piece.samples += more.samples;
      this.#waiting.shift();
    }
    return (this.#tried = piece);
  }

  /** What was to be sent has arrived. */
  sent(): void {
    this.#tried = null;
  }

  /** It has not, as far as is known: it is tried again, unless it is too old by now. @param heard sample after the newest that was heard */
  failed(heard: number): void {
    if (!this.#tried || lateMs(this.#tried, heard) <= MOST_LATE_MS) return;
    this.#droppedSamples += this.#tried.samples;
    this.#tried = null;
  }

  /** Sound that waits, and that was left out, ms. */
  get facts(): { waitingMs: number; droppedMs: number } {
    const pieces = this.#tried ? [this.#tried, ...this.#waiting] : this.#waiting;
    const waiting = pieces.reduce((sum, { samples }) => sum + samples, 0) + this.#ready.length * this.#packetSamples;
    return { waitingMs: Math.round(waiting / SAMPLES_A_MS), droppedMs: Math.round(this.#droppedSamples / SAMPLES_A_MS) };
  }
}

/** How long ago the last sample of a piece was heard, ms. */
export const lateMs = ({ from, samples }: Pick<Piece, 'from' | 'samples'>, heard: number): number => Math.max(0, (heard - from - samples) / SAMPLES_A_MS);
