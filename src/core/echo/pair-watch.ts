import { DECIMATE_REACH, decimateTo16k, TO_16_KHZ } from '../dsp/decimate';
import { EchoWatch, WATCH_STEP, type EchoReading } from './echo-watch';

/** Samples at 48 kHz of a step, and with what shapes its first and last ones. */
const STEP = TO_16_KHZ * WATCH_STEP;
const STRETCH = STEP + 2 * DECIMATE_REACH;

/** Half a second of a signal, with a little of what came before; late by what shapes its last sample. */
class Stretch {
  readonly samples = new Float32Array(STRETCH);

  /** The step at 16 kHz. What it is shaped by is kept for the next. */
  take(): Float32Array {
    const step = decimateTo16k(this.samples).subarray(DECIMATE_REACH / TO_16_KHZ, DECIMATE_REACH / TO_16_KHZ + WATCH_STEP);
    this.samples.copyWithin(0, STEP);
    return step;
  }
}

/** The echo watch of one source and one listener, fed with blocks at 48 kHz as a capture brings them. */
export class PairWatch {
  /** What comes sooner is no echo on this line, ms. */
  leastMs: number | undefined;
  readonly #watch = new EchoWatch();
  readonly #microphone = new Stretch();
  readonly #sent = new Stretch();
  #at: number;

  /** @param past share of the first step that counts as past, below 1: of many watches in one thread each then works at a time of its own */
  constructor(past = 0) {
    this.#at = 2 * DECIMATE_REACH + Math.floor(past * STEP);
  }

  /** The next block of the source and of both sides of the listener's mix, as long as one fits into half a second; a reading every half second. */
  take(source: Float32Array, left: Float32Array, right: Float32Array): EchoReading | null {
    const fits = Math.min(source.length, STRETCH - this.#at);
    this.#add(source, left, right, 0, fits);
    if (this.#at < STRETCH) return null;
    const reading = this.#watch.step(this.#microphone.take(), this.#sent.take(), this.leastMs);
    this.#at = 2 * DECIMATE_REACH;
    this.#add(source, left, right, fits, source.length);
    return reading;
  }

  #add(source: Float32Array, left: Float32Array, right: Float32Array, from: number, to: number): void {
    const [microphone, sent] = [this.#microphone.samples, this.#sent.samples];
    for (let i = from, at = this.#at; i < to; i++, at++) {
      microphone[at] = source[i];
      sent[at] = 0.5 * (left[i] + right[i]);
    }
    this.#at += to - from;
  }
}
