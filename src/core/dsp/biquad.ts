/** Coefficients of a filter of second order, with a0 = 1. */
export interface Biquad {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/** Steepest slope without a bump at the edge (Butterworth), for passes and shelves. */
export const BUTTERWORTH = Math.SQRT1_2;

// All of these: Robert Bristow-Johnson, Cookbook formulae for audio equalizer biquad filter coefficients.

const at = (hz: number, q: number, sampleRate: number) => {
  const w = (2 * Math.PI * hz) / sampleRate;
  return { cos: Math.cos(w), alpha: Math.sin(w) / (2 * q) };
};

export function lowPass(hz: number, sampleRate: number, q = BUTTERWORTH): Biquad {
  const { cos, alpha } = at(hz, q, sampleRate);
  const a0 = 1 + alpha;
  const edge = (1 - cos) / 2 / a0;
  return { b0: edge, b1: 2 * edge, b2: edge, a1: (-2 * cos) / a0, a2: (1 - alpha) / a0 };
}

export function highPass(hz: number, sampleRate: number, q = BUTTERWORTH): Biquad {
  const { cos, alpha } = at(hz, q, sampleRate);
  const a0 = 1 + alpha;
  const edge = (1 + cos) / 2 / a0;
  return { b0: edge, b1: -2 * edge, b2: edge, a1: (-2 * cos) / a0, a2: (1 - alpha) / a0 };
}

/** Raises or lowers around `hz` by `gainDb`, the narrower the greater `q`. */
export function bell(hz: number, gainDb: number, q: number, sampleRate: number): Biquad {
  const { cos, alpha } = at(hz, q, sampleRate);
  const a = 10 ** (gainDb / 40);
  const a0 = 1 + alpha / a;
  return { b0: (1 + alpha * a) / a0, b1: (-2 * cos) / a0, b2: (1 - alpha * a) / a0, a1: (-2 * cos) / a0, a2: (1 - alpha / a) / a0 };
}

/** Raises or lowers what is below `hz` by `gainDb`; half of it, in dB, at `hz`. */
export function lowShelf(hz: number, gainDb: number, sampleRate: number): Biquad {
  return shelf(hz, gainDb, sampleRate, 1);
}

/** Raises or lowers what is above `hz` by `gainDb`; half of it, in dB, at `hz`. */
export function highShelf(hz: number, gainDb: number, sampleRate: number): Biquad {
  return shelf(hz, gainDb, sampleRate, -1);
}

/** @param side 1 for a low shelf, −1 for a high one */
function shelf(hz: number, gainDb: number, sampleRate: number, side: 1 | -1): Biquad {
  const { cos, alpha } = at(hz, BUTTERWORTH, sampleRate);
  const a = 10 ** (gainDb / 40);
  const [plus, minus, wide] = [a + 1, a - 1, 2 * Math.sqrt(a) * alpha];
  const turned = side * cos;
  const a0 = plus + minus * turned + wide;
  return {
    b0: (a * (plus - minus * turned + wide)) / a0,
    b1: (side * 2 * a * (minus - plus * turned)) / a0,
    b2: (a * (plus - minus * turned - wide)) / a0,
    a1: (side * -2 * (minus + plus * turned)) / a0,
    a2: (plus + minus * turned - wide) / a0,
  };
}

/** What a filter does to a steady tone, dB. */
export function responseDb({ b0, b1, b2, a1, a2 }: Biquad, hz: number, sampleRate: number): number {
  const w = (2 * Math.PI * hz) / sampleRate;
  const power = (c0: number, c1: number, c2: number) =>
    (c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w)) ** 2 + (c1 * Math.sin(w) + c2 * Math.sin(2 * w)) ** 2;
  return 10 * Math.log10(power(b0, b1, b2) / power(1, a1, a2));
}

/** Runs one filter over one channel, direct form I: its states are signals, so that coefficients may move while it runs. */
export class BiquadFilter {
  #b0 = 1;
  #b1 = 0;
  #b2 = 0;
  #a1 = 0;
  #a2 = 0;
  #x1 = 0;
  #x2 = 0;
  #y1 = 0;
  #y2 = 0;

  constructor(filter: Biquad) {
    this.set(filter);
  }

  set({ b0, b1, b2, a1, a2 }: Biquad): void {
    this.#b0 = b0;
    this.#b1 = b1;
    this.#b2 = b2;
    this.#a1 = a1;
    this.#a2 = a2;
  }

  reset(): void {
    this.#x1 = this.#x2 = this.#y1 = this.#y2 = 0;
  }

  next(x: number): number {
    const y = this.#b0 * x + this.#b1 * this.#x1 + this.#b2 * this.#x2 - this.#a1 * this.#y1 - this.#a2 * this.#y2;
    this.#x2 = this.#x1;
    this.#x1 = x;
    this.#y2 = this.#y1;
    // What rings out into silence ends in numbers so small that a processor takes ten times as long for them.
    this.#y1 = y < 1e-25 && y > -1e-25 ? 0 : y;
    return y;
  }
}
