import { NOISE_DELAY } from '../../strip/declared';
import type { Stereo } from '../../kernel/stereo';
import type { Insert } from './insert';

/** Samples a suppressor works on at once: 10 ms at 48 kHz. */
export const NOISE_FRAME = 480;

/** Takes noise out of one voice, frame after frame. What it gives is one frame later than what it was given. */
export interface Suppressor {
  /** One frame, mono, in place. */
  process(frame: Float32Array): void;
}

/**
 * Collects frames for a suppressor. Those of different voices are full in different blocks, so that no block has to do more
 * of them than it must: that is their phase.
 */
export class NoiseSuppression implements Insert {
  readonly delay = NOISE_DELAY;
  readonly #frame = new Float32Array(NOISE_FRAME);
  readonly #ready = new Float32Array(NOISE_FRAME);
  #suppressor: Suppressor | null = null;
  #phase = 0;
  #at = 0;

  /** @param phase samples by which its frames are full earlier than those of others */
  use(suppressor: Suppressor | null, phase = 0): void {
    this.#suppressor = suppressor;
    this.#phase = phase % NOISE_FRAME;
    this.reset();
  }

  ready(): boolean {
    return this.#suppressor !== null;
  }

  reset(): void {
    this.#frame.fill(0);
    this.#ready.fill(0);
    this.#at = this.#phase;
  }

  process({ left, right }: Stereo, length: number): void {
    for (let i = 0; i < length; i++) {
      this.#frame[this.#at] = (left[i] + right[i]) / 2;
      left[i] = right[i] = this.#ready[this.#at];
      if (++this.#at < NOISE_FRAME) continue;
      this.#at = 0;
      this.#suppressor?.process(this.#frame);
      this.#ready.set(this.#frame);
    }
  }
}
