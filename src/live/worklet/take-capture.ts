import type { Engine } from '@/core/engine/engine';
import { readTaps, type Tap } from '@/core/session/captures';
import type { RingWriter } from '../recorder/ring';
import { LOGGED, type StatusBoard } from './status-board';
import { writeEntry } from './take-log';

/** So many pauses are looked back over when a sound is placed that was begun before them. */
const PAUSES_KEPT = 64;

/**
 * The take that is being recorded, in the audio thread: taps into the ring, block by block, and the log of what was in
 * force. What it counts and writes down are samples of the take; a pause takes none. Allocates nothing in a block.
 */
export class TakeCapture {
  /** The next sample of the take. */
  frames: number;
  readonly #board: StatusBoard;
  #ring: RingWriter;
  #taps: readonly Tap[];
  #paused = false;
  /** Session samples that went by in the pause that lasts. */
  #skipped = 0;
  /** Session clock less the sample of the take, as long as nothing is paused. */
  #ahead: number;
  readonly #pausedAt = new Float64Array(PAUSES_KEPT);
  readonly #pausedFor = new Float64Array(PAUSES_KEPT);
  #pauses = 0;
  readonly #from: number;

  /** @param from the sample of the take with which it begins or goes on */
  constructor(board: StatusBoard, ring: RingWriter, taps: readonly Tap[], from: number, clock: number, plan: number) {
    this.#board = board;
    this.#ring = ring;
    this.#taps = taps;
    this.#from = this.frames = from;
    this.#ahead = clock - from;
    this.#log('begun', clock);
    this.planInForce(plan);
  }

  /** Another plan is in force from the next sample on. */
  planInForce(plan: number): void {
    this.#log('plan', plan);
  }

  /** The take has more tracks from the next sample on: the ring before holds what came until now. */
  goOnWith(ring: RingWriter, taps: readonly Tap[]): void {
    this.#ring.close();
    this.#ring = ring;
    this.#taps = taps;
  }

  pause(paused: boolean): void {
    if (this.#paused && !paused) this.#endPause();
    this.#paused = paused;
  }

  end(): void {
    if (this.#paused) this.#endPause();
    this.#log('ended');
    this.#ring.close();
  }

  /** Puts a block into the ring. */
  take(engine: Engine, length: number): void {
    if (this.#paused) {
      this.#skipped += length;
      return;
    }
    const room = this.#ring.next();
    const position = this.frames;
    this.frames += length;
    // A full ring loses this block; the reader sees the jump in position and lists it.
    if (!room) return;
    readTaps(engine, this.#taps, room, length);
    this.#ring.commit(position);
  }

  /** Writes down a sound that was played, by the session clock of its first sample. */
  played(place: number, startedAt: number, lengthSamples: number, peak: number, sumOfSquares: number): void {
    const atSample = this.#sampleAt(startedAt);
    const length = this.#sampleAt(startedAt + lengthSamples) - atSample;
    if (length > 0) writeEntry(this.#board, LOGGED, 'played', atSample, length, place, peak, sumOfSquares);
  }

  /** The sample of the take at a moment of the session clock, up to the end of the block that comes. */
  #sampleAt(clock: number): number {
    let at = clock - this.#ahead;
    // While it is paused the take stands still.
    if (this.#paused) at = Math.min(this.frames, at);
    // Backwards through the pauses that came after that moment: before each, the take was further on than it seems.
    for (let k = this.#pauses - 1; k >= Math.max(0, this.#pauses - PAUSES_KEPT); k--) {
      const pausedAt = this.#pausedAt[k % PAUSES_KEPT];
      if (at >= pausedAt) break;
      at = Math.min(pausedAt, at + this.#pausedFor[k % PAUSES_KEPT]);
    }
    return Math.max(this.#from, at);
  }

  #endPause(): void {
    if (this.#skipped > 0) {
      this.#pausedAt[this.#pauses % PAUSES_KEPT] = this.frames;
      this.#pausedFor[this.#pauses % PAUSES_KEPT] = this.#skipped;
      this.#pauses++;
      this.#ahead += this.#skipped;
      this.#log('paused', this.#skipped);
    }
    this.#skipped = 0;
    this.#paused = false;
  }

  #log(type: 'begun' | 'plan' | 'paused' | 'ended', what = 0): void {
    writeEntry(this.#board, LOGGED, type, this.frames, what);
  }
}
