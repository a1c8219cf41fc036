import { kernelIn, PAGE_BYTES, type KernelFunctions } from '../kernel/kernel';
import { SINC_REACH, SINC_TABLE } from './sinc';

/** Frames of a ring that are looked at in one go, and values that are made of them. */
const WINDOW_FRAMES = 2048;
const MOST_VALUES = 1024;
const FLOAT_BYTES = 4;
const FRAME_BYTES = 2 * FLOAT_BYTES;

/**
 * Reads rings between their samples, in compiled code: 64 products for each value and channel take a whole processor where
 * the audio thread's own code is not compiled to its best yet. Works alone in its thread.
 */
export class RingResampler {
  readonly #kernel: KernelFunctions;
  readonly #window: Float32Array;
  readonly #values: Float32Array;
  readonly #at = { table: 0, window: SINC_TABLE.byteLength, values: SINC_TABLE.byteLength + WINDOW_FRAMES * FRAME_BYTES };

  constructor() {
    const bytes = this.#at.values + MOST_VALUES * FRAME_BYTES;
    const pages = Math.ceil(bytes / PAGE_BYTES);
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    this.#kernel = kernelIn(memory);
    new Float64Array(memory.buffer, this.#at.table, SINC_TABLE.length).set(SINC_TABLE);
    this.#window = new Float32Array(memory.buffer, this.#at.window, 2 * WINDOW_FRAMES);
    this.#values = new Float32Array(memory.buffer, this.#at.values, 2 * MOST_VALUES);
  }

  /**
   * Values of two channels in rings whose length is a power of two, for places `step` apart. What lies {@link SINC_REACH} before and
   * behind each place is read.
   * @param at the first place, samples
   * @returns the place after the last
   */
  read(ringLeft: Float32Array, ringRight: Float32Array, at: number, step: number, left: Float32Array, right: Float32Array, length: number): number {
    const mask = ringLeft.length - 1;
    const window = this.#window;
    const values = this.#values;
    let place = at;
    for (let done = 0; done < length; ) {
      const first = Math.floor(place) - SINC_REACH;
      const count = Math.min(length - done, MOST_VALUES, Math.floor((WINDOW_FRAMES - 2 * SINC_REACH - 2) / step) + 1);
      const frames = Math.ceil((count - 1) * step) + 2 * SINC_REACH + 2;
      for (let i = 0; i < frames; i++) {
        const from = (first + i) & mask;
        window[2 * i] = ringLeft[from];
        window[2 * i + 1] = ringRight[from];
      }
      place = first + this.#kernel.resampleStereo(this.#at.window, this.#at.values, count, place - first, step, this.#at.table);
      for (let i = 0; i < count; i++) {
        left[done + i] = values[2 * i];
        right[done + i] = values[2 * i + 1];
      }
      done += count;
    }
    return place;
  }
}

let shared: RingResampler | null = null;

/** The one of this thread. Making it takes longer than a block has. */
export const ringResampler = (): RingResampler => (shared ??= new RingResampler());
