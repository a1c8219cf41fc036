/** How a sound goes under the voices. */
export interface DuckSettings {
  /** How far down it goes, dB below its own level. */
  depthDb: number;
  /** From its own level all the way down, and back, ms. The gain moves evenly in dB. */
  attackMs: number;
  releaseMs: number;
  /** How long it stays down after the last word, ms. */
  holdMs: number;
}

/** The gain of one sound under the voices, sample by sample. It never steps. */
export class Ducker {
  readonly #sampleRate: number;
  #settings: DuckSettings = { depthDb: 0, attackMs: 1, releaseMs: 1, holdMs: 0 };
  #gain = 1;
  #floor = 1;
  #down = 1;
  #up = 1;
  #hold = 0;
  #holdLeft = 0;

  constructor(sampleRate = 48000) {
    this.#sampleRate = sampleRate;
  }

  /** Other settings; the gain goes on from where it is. Null lets the sound come up and stay up. */
  set(settings: DuckSettings | null): void {
    const { depthDb, attackMs, releaseMs, holdMs } = settings ?? { ...this.#settings, depthDb: 0 };
    const depth = Math.max(0, depthDb);
    const perSample = (ms: number, db: number) => 10 ** (db / 20 / Math.max(1, (ms / 1000) * this.#sampleRate));
    // Without a depth of its own the way back keeps the slope it had.
    const slope = depth > 0 ? depth : this.#settings.depthDb;
    this.#floor = 10 ** (-depth / 20);
    this.#down = perSample(attackMs, -slope);
    this.#up = perSample(releaseMs, slope);
    this.#hold = (holdMs / 1000) * this.#sampleRate;
    if (settings) this.#settings = settings;
  }

  /** Gain at the end of the last block, linear. */
  gain(): number {
    return this.#gain;
  }

  /** Whether the next block would be left as it is. */
  atRest(speaking: boolean): boolean {
    return this.#gain === 1 && (!speaking || this.#floor === 1) && this.#holdLeft <= 0;
  }

  /** Writes the gain of each sample of a block in which somebody speaks, or nobody does. */
  process(speaking: boolean, gains: Float32Array, length: number): void {
    if (speaking) this.#holdLeft = this.#hold;
    for (let i = 0; i < length; i++) {
      const wanted = speaking || this.#holdLeft > 0 ? this.#floor : 1;
      if (!speaking && this.#holdLeft > 0) this.#holdLeft--;
      if (this.#gain > wanted) this.#gain = Math.max(wanted, this.#gain * this.#down);
      else if (this.#gain < wanted) this.#gain = Math.min(wanted, this.#gain * this.#up);
      gains[i] = this.#gain;
    }
  }
}
