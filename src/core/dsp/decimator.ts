const TAPS = 72;
const DECIMATION = 6;

/** Low-pass at 3.7 kHz for 48 kHz: sinc under a Blackman window, −60 dB half a kilohertz above. */
const LOW_PASS = Float64Array.from({ length: TAPS }, (_, n) => {
  const x = n - (TAPS - 1) / 2;
  const cutoff = 3700 / 48000;
  const window = 0.42 - 0.5 * Math.cos((2 * Math.PI * n) / (TAPS - 1)) + 0.08 * Math.cos((4 * Math.PI * n) / (TAPS - 1));
  return (Math.sin(2 * Math.PI * cutoff * x) / (Math.PI * x)) * window;
});

/** Takes every sixth sample of a signal at 48 kHz, with what would alias filtered out. Delays by 36 samples. */
export class Decimator {
  readonly #history = new Float32Array(2 * TAPS);
  #place = 0;
  #phase = 0;

  /** Writes what comes out of a block to `out`; returns how many samples that are. */
  process(samples: Float32Array, length: number, out: Float32Array): number {
    const history = this.#history;
    let made = 0;
    for (let i = 0; i < length; i++) {
      // Twice, so that the newest are always in one piece.
      history[this.#place] = history[this.#place + TAPS] = samples[i];
      this.#place = (this.#place + 1) % TAPS;
      if (++this.#phase < DECIMATION) continue;
      this.#phase = 0;
      let sum = 0;
      for (let n = 0; n < TAPS; n++) sum += LOW_PASS[n] * history[this.#place + n];
      out[made++] = sum;
    }
    return made;
  }
}
