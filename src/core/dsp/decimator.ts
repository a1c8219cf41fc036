/** Samples in for one out: 48 kHz becomes 8 kHz. */
export const DECIMATION = 6;
const TAPS = 72;

/** Low-pass at 3.4 kHz for 48 kHz: sinc under a Blackman window (−60 dB from 4.2 kHz on). */
const LOW_PASS = Float64Array.from({ length: TAPS }, (_, n) => {
  const x = n - (TAPS - 1) / 2;
  const cutoff = 3700 / 48000;
  const window = 0.42 - 0.5 * Math.cos((2 * Math.PI * n) / (TAPS - 1)) + 0.08 * Math.cos((4 * Math.PI * n) / (TAPS - 1));
  return ((Math.sin(2 * Math.PI * cutoff * x) / (Math.PI * x)) * window);
});

/** Takes every sixth sample of a signal, with what would alias filtered out. Delays by 36 samples. */
export class Decimator {
  readonly #history = new Float32Array(TAPS);
  #place = 0;
  #phase = 0;

  /** Writes what comes out of a block to `out`; returns how many samples that are. */
  process(samples: Float32Array, length: number, out: Float32Array): number {
    let made = 0;
    for (let i = 0; i < length; i++) {
      this.#history[this.#place] = samples[i];
      this.#place = (this.#place + 1) % TAPS;
      if (++this.#phase < DECIMATION) continue;
      this.#phase = 0;
      let sum = 0;
      for (let n = 0; n < TAPS; n++) sum += LOW_PASS[n] * this.#history[(this.#place + n) % TAPS];
      out[made++] = sum;
    }
    return made;
  }
}
