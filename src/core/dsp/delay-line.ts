interface Sides {
  left: Float32Array;
  right: Float32Array;
}

/** From one delay to another without a click. */
const FADE_SECONDS = 0.01;

/** Delays a stereo signal by whole samples; another delay is faded to. */
export class DelayLine {
  readonly #left: Float32Array;
  readonly #right: Float32Array;
  readonly #capacity: number;
  readonly #fadeLength: number;
  #at = 0;
  /** Samples; while a change fades, what it was and what it becomes. */
  #from = 0;
  #to = 0;
  /** Samples of the fade that are done. */
  #faded: number;

  /** @param most the longest delay, samples */
  constructor(most: number, sampleRate: number) {
    this.#capacity = most + 1;
    this.#left = new Float32Array(this.#capacity);
    this.#right = new Float32Array(this.#capacity);
    this.#fadeLength = Math.round(FADE_SECONDS * sampleRate);
    this.#faded = this.#fadeLength;
  }

  /** True when nothing is delayed any more. */
  get idle(): boolean {
    return this.#to === 0 && this.#faded >= this.#fadeLength;
  }

  set(samples: number): void {
    if (samples === this.#to) return;
    // It was not fed while it was idle: what it holds was said long ago.
    if (this.idle) {
      this.#left.fill(0);
      this.#right.fill(0);
    }
    this.#from = this.#to;
    this.#to = samples;
    this.#faded = 0;
  }

  /** One block; input and output may be the same. */
  process(input: Sides, output: Sides, length: number): void {
    const capacity = this.#capacity;
    for (let i = 0; i < length; i++) {
      this.#left[this.#at] = input.left[i];
      this.#right[this.#at] = input.right[i];
      const now = (this.#at + capacity - this.#to) % capacity;
      if (this.#faded < this.#fadeLength) {
        const before = (this.#at + capacity - this.#from) % capacity;
        const share = ++this.#faded / this.#fadeLength;
        output.left[i] = this.#left[before] + share * (this.#left[now] - this.#left[before]);
        output.right[i] = this.#right[before] + share * (this.#right[now] - this.#right[before]);
      } else {
        output.left[i] = this.#left[now];
        output.right[i] = this.#right[now];
      }
      this.#at = this.#at + 1 === capacity ? 0 : this.#at + 1;
    }
  }
}
