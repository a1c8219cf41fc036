import type { Biquad } from '../dsp/biquad';

/**
 * The two K-weighting filters of BS.1770-5 annex 1 at any rate: the standard's 48 kHz coefficients
 * are the bilinear transforms of these analogue prototypes.
 */
export function kWeighting(sampleRate: number): [Biquad, Biquad] {
  const shelf = (() => {
    const [hz, db, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
    const k = Math.tan((Math.PI * hz) / sampleRate);
    const high = 10 ** (db / 20);
    const middle = high ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b0: (high + (middle * k) / q + k * k) / a0,
      b1: (2 * (k * k - high)) / a0,
      b2: (high - (middle * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    };
  })();
  const highPass = (() => {
    const [hz, q] = [38.13547087602444, 0.5003270373238773];
    const k = Math.tan((Math.PI * hz) / sampleRate);
    const a0 = 1 + k / q + k * k;
    return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
  })();
  return [shelf, highPass];
}

/** Energy of sound as it is heard, channel by channel, however it is cut. */
export class KWeightedEnergy {
  readonly #filters: [Biquad, Biquad];
  /** Two states for each filter (transposed direct form II) and channel. */
  readonly #states: Float64Array;

  constructor(sampleRate: number, channelCount: number) {
    this.#filters = kWeighting(sampleRate);
    this.#states = new Float64Array(4 * channelCount);
  }

  /** Sum of the squares of the next samples of a channel, K-weighted. */
  next(samples: Float32Array, channel: number, from: number, to: number): number {
    const [shelf, highPass] = this.#filters;
    const states = this.#states;
    const at = 4 * channel;
    let [s1, s2, h1, h2] = [states[at], states[at + 1], states[at + 2], states[at + 3]];
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = samples[i];
      const y = shelf.b0 * x + s1;
      s1 = shelf.b1 * x - shelf.a1 * y + s2;
      s2 = shelf.b2 * x - shelf.a2 * y;
      const z = highPass.b0 * y + h1;
      h1 = highPass.b1 * y - highPass.a1 * z + h2;
      h2 = highPass.b2 * y - highPass.a2 * z;
      sum += z * z;
    }
    states[at] = s1;
    states[at + 1] = s2;
    states[at + 2] = h1;
    states[at + 3] = h2;
    return sum;
  }
}
