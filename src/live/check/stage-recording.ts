import { channelsOf, type Tap } from '@/core/session/captures';
import { RING_BLOCK } from '../recorder/ring';

/** Signals of one stage of a check, each with both its sides put together, by the session clock. */
export class StageRecording {
  readonly #taps: readonly Tap[];
  readonly #signals: Float32Array<ArrayBuffer>[];
  readonly #channels: number;
  #from = -1;
  #until = 0;

  /** @param samples how many it has room for */
  constructor(taps: readonly Tap[], samples: number) {
    this.#taps = taps;
    this.#channels = channelsOf(taps);
    this.#signals = taps.map(() => new Float32Array(samples));
  }

  get channels(): number {
    return this.#channels;
  }

  /** Session clock up to which it was recorded. */
  get until(): number {
    return this.#until;
  }

  take(position: number, channels: Float32Array): void {
    if (this.#from < 0) this.#from = position;
    const at = position - this.#from;
    if (at + RING_BLOCK > this.#signals[0].length) return;
    let channel = 0;
    for (let k = 0; k < this.#taps.length; k++) {
      const signal = this.#signals[k];
      const left = channel * RING_BLOCK;
      const right = (channel + this.#taps[k].channels - 1) * RING_BLOCK;
      for (let i = 0; i < RING_BLOCK; i++) signal[at + i] = (channels[left + i] + channels[right + i]) / 2;
      channel += this.#taps[k].channels;
    }
    this.#until = position + RING_BLOCK;
  }

  /** A stretch of one signal. @param from session clock */
  part(signal: number, from: number, length: number): Float32Array<ArrayBuffer> {
    const at = from - this.#from;
    const out = new Float32Array(length);
    out.set(this.#signals[signal].subarray(Math.max(0, at), Math.max(0, at + length)), Math.max(0, -at));
    return out;
  }
}
