const TICK_MS = 5;
const STALL_MS = 20;

/** Watches the machine: a sleeper that wakes up late was not let run, and nothing else was either. */
export class Stalls {
  readonly #found: { at: number; ms: number }[] = [];
  readonly #timer: ReturnType<typeof setInterval>;
  #last = performance.now();

  constructor() {
    this.#timer = setInterval(() => {
      const now = performance.now();
      const late = now - this.#last - TICK_MS;
      if (late > STALL_MS) this.#found.push({ at: now, ms: late });
      this.#last = now;
    }, TICK_MS);
  }

  /** How many, and the longest, ms. */
  summary(): { count: number; longestMs: number } {
    return { count: this.#found.length, longestMs: Math.round(Math.max(0, ...this.#found.map(({ ms }) => ms))) };
  }

  /** Whether the machine stood still about then; `performance.now()`. What waits in buffers is heard up to a second later. */
  explains(at: number): boolean {
    return this.#found.some((stall) => at > stall.at - stall.ms - 300 && at < stall.at + 1000);
  }

  stop(): void {
    clearInterval(this.#timer);
  }
}
