const TAPS = 72;

/** Low-pass for 48 kHz: sinc under a Blackman window, −60 dB half a kilohertz above. */
const lowPass = (cutoffHz: number): Float64Array =>
  Float64Array.from({ length: TAPS }, (_, n) => {
    const x = n - (TAPS - 1) / 2;
    const cutoff = cutoffHz / 48000;
    const window = 0.42 - 0.5 * Math.cos((2 * Math.PI * n) / (TAPS - 1)) + 0.08 * Math.cos((4 * Math.PI * n) / (TAPS - 1));
    return (Math.sin(2 * Math.PI * cutoff * x) / (Math.PI * x)) * window;
  });

/** Lower rates that 48 kHz is brought to: every sixth sample, or every third. */
const LOW_PASSES = { 6: lowPass(3700), 3: lowPass(7200) };
export type Decimation = keyof typeof LOW_PASSES;

/** Takes every sixth or third sample of a signal at 48 kHz, with what would alias filtered out. Delays by 36 samples. */
export class Decimator {
  readonly #history = new Float32Array(2 * TAPS);
  readonly #decimation: Decimation;
  readonly #lowPass: Float64Array;
  #place = 0;
  #phase = 0;

  constructor(decimation: Decimation = 6) {
    this.#decimation = decimation;
    this.#lowPass = LOW_PASSES[decimation];
  }

  /** Writes what comes out of a block to `out`; returns how many samples that are. */
  process(samples: Float32Array, length: number, out: Float32Array): number {
    const history = this.#history;
    const taps = this.#lowPass;
    let made = 0;
    for (let i = 0; i < length; i++) {
      // Twice, so that the newest are always in one piece.
      history[this.#place] = history[this.#place + TAPS] = samples[i];
      this.#place = (this.#place + 1) % TAPS;
      if (++this.#phase < this.#decimation) continue;
      this.#phase = 0;
      let sum = 0;
      for (let n = 0; n < TAPS; n++) sum += taps[n] * history[this.#place + n];
      out[made++] = sum;
    }
    return made;
  }
}
