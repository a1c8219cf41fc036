import type { Stereo } from '../../kernel/stereo';

/** One step of a strip, in place. */
export interface Insert {
  /** By so many samples what comes out is later. */
  readonly delay: number;
  process(sound: Stereo, length: number): void;
  /** Forgets what it has heard; before it begins again. */
  reset(): void;
}

/** In which an insert comes and goes, so that nothing clicks. */
export const FADE_SECONDS = 0.01;

/**
 * Switches an insert on and off: it fades, and one that is later than what comes in runs until it has something to give
 * first. While it is off nothing is done, and what comes in is let through bit by bit.
 */
export class Switched {
  readonly #insert: Insert;
  readonly #step: number;
  #on = false;
  /** How much of it is in what comes out, 0 to 1. */
  #share = 0;
  #warming = 0;

  constructor(insert: Insert, sampleRate: number) {
    this.#insert = insert;
    this.#step = 1 / (FADE_SECONDS * sampleRate);
  }

  set(on: boolean): void {
    if (on && !this.#on && this.#share === 0) {
      this.#insert.reset();
      this.#warming = this.#insert.delay;
    }
    this.#on = on;
  }

  atRest(): boolean {
    return !this.#on && this.#share === 0;
  }

  /** @param dry room for what came in, overwritten */
  process(sound: Stereo, dry: Stereo, length: number): void {
    if (this.atRest()) return;
    const whole = this.#on && this.#share === 1;
    if (!whole) for (let i = 0; i < length; i++) {
      dry.left[i] = sound.left[i];
      dry.right[i] = sound.right[i];
    }
    this.#insert.process(sound, length);
    if (!whole) this.#fade(sound, dry, length);
  }

  #fade({ left, right }: Stereo, dry: Stereo, length: number): void {
    let share = this.#share;
    for (let i = 0; i < length; i++) {
      if (this.#warming > 0) this.#warming--;
      else share = this.#on ? Math.min(1, share + this.#step) : Math.max(0, share - this.#step);
      left[i] = dry.left[i] + share * (left[i] - dry.left[i]);
      right[i] = dry.right[i] + share * (right[i] - dry.right[i]);
    }
    this.#share = share;
  }
}
