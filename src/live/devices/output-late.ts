/** Readings that are taken together: one alone is off by some milliseconds now and then. */
const READINGS = 5;

/** How late an output is against the time of day (time less what it has played, ms), as the browser says it. */
export class OutputLate {
  readonly #readings: number[] = [];

  /** Reads it now; NaN while the browser does not say. To be called a few times a second. */
  read(context: AudioContext): number {
    const { contextTime = 0, performanceTime = 0 } = context.getOutputTimestamp?.() ?? {};
    if (contextTime === 0 || context.state !== 'running') return NaN;
    this.#readings.push(performanceTime - 1000 * contextTime);
    if (this.#readings.length > READINGS) this.#readings.shift();
    return this.#readings.toSorted((a, b) => a - b)[Math.floor(this.#readings.length / 2)];
  }
}
