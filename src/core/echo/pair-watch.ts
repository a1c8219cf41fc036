import { Decimator } from '../dsp/decimator';
import { EchoWatch, WATCH_STEP, type EchoReading } from './echo-watch';

/** Samples at 48 kHz for one that is watched. */
const DECIMATION = 3;

/** The echo watch of one source and one listener, fed with blocks at 48 kHz as a capture brings them. */
export class PairWatch {
  /** What comes sooner is no echo on this line, ms. */
  leastMs: number | undefined;
  readonly #watch = new EchoWatch();
  readonly #microphone = { decimator: new Decimator(DECIMATION), samples: new Float32Array(WATCH_STEP + 128) };
  readonly #sent = { decimator: new Decimator(DECIMATION), samples: new Float32Array(WATCH_STEP + 128) };
  readonly #mono: Float32Array;
  readonly #made = new Float32Array(128);
  #at = 0;

  /** @param block samples of one channel in a block, 384 at most */
  constructor(block: number) {
    this.#mono = new Float32Array(block);
  }

  /** The next block of the source and of both sides of the listener's mix; a reading every half second. */
  take(source: Float32Array, left: Float32Array, right: Float32Array): EchoReading | null {
    for (let i = 0; i < this.#mono.length; i++) this.#mono[i] = 0.5 * (left[i] + right[i]);
    const made = this.#microphone.decimator.process(source, source.length, this.#made);
    this.#microphone.samples.set(this.#made.subarray(0, made), this.#at);
    this.#sent.decimator.process(this.#mono, this.#mono.length, this.#made);
    this.#sent.samples.set(this.#made.subarray(0, made), this.#at);
    this.#at += made;
    if (this.#at < WATCH_STEP) return null;
    const reading = this.#watch.step(this.#microphone.samples.subarray(0, WATCH_STEP), this.#sent.samples.subarray(0, WATCH_STEP), this.leastMs);
    this.#at -= WATCH_STEP;
    for (const { samples } of [this.#microphone, this.#sent]) samples.copyWithin(0, WATCH_STEP, WATCH_STEP + this.#at);
    return reading;
  }
}
