import { RING_FRAMES, WRITTEN, type SoundRing } from '@/core/dsp/sound-ring';

/** Follows a ring from the page: for levels, and for what a known sound did. Reads beside whoever else reads. */
export class RingEar {
  readonly #ring: SoundRing;
  #at: number;
  #kept: Float32Array[] | null = null;

  constructor(ring: SoundRing) {
    this.#ring = ring;
    this.#at = Atomics.load(ring.counters, WRITTEN);
  }

  /** Peak of what came since the last call, linear. To be called at least once a second. */
  take(): number {
    const { piece, peak } = this.#read();
    this.#kept?.push(piece);
    return peak;
  }

  /** What came since the last call, mono. To be called at least once a second. */
  newSound(): Float32Array {
    return this.#read().piece;
  }

  #read(): { piece: Float32Array; peak: number } {
    const { counters, left, right } = this.#ring;
    const now = Atomics.load(counters, WRITTEN);
    const count = Math.min((now - this.#at) | 0, RING_FRAMES / 2);
    const piece = new Float32Array(Math.max(0, count));
    let peak = 0;
    for (let i = 0; i < piece.length; i++) {
      const place = (now - count + i) & (RING_FRAMES - 1);
      piece[i] = 0.5 * (left[place] + right[place]);
      peak = Math.max(peak, Math.abs(left[place]), Math.abs(right[place]));
    }
    this.#at = now;
    return { piece, peak };
  }

  /** Keeps what comes from now on. */
  keep(): void {
    this.take();
    this.#kept = [];
  }

  /** Everything kept so far, mono. */
  recording(): Float32Array {
    const pieces = this.#kept ?? [];
    const all = new Float32Array(pieces.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const piece of pieces) {
      all.set(piece, at);
      at += piece.length;
    }
    return all;
  }
}
