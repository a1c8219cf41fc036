import { bessel0 } from '../dsp/bessel';

/** Samples looked at between two samples: BS.1770-5 annex 2 asks for at least four times 48 kHz. */
const OVERSAMPLING = 4;
/** Samples on either side that shape the one in between. Shorter filters read up to 0.6 dB low. */
const REACH = 32;

/** The interpolation filters of the phases between two samples: sinc under a Kaiser window. */
const PHASES: Float64Array[] = Array.from({ length: OVERSAMPLING - 1 }, (_, k) => phase((k + 1) / OVERSAMPLING));

function phase(offset: number): Float64Array {
  const beta = 10;
  const taps = Float64Array.from({ length: 2 * REACH }, (_, n) => {
    const x = n - (REACH - 1) - offset;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    const edge = Math.min(1, Math.abs(x) / REACH);
    return (sinc * bessel0(beta * Math.sqrt(1 - edge * edge))) / bessel0(beta);
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => tap / sum);
}

/**
 * The largest value at and after the middle of the 64 samples from `at` on, samples between included, for a limiter;
 * below half of `from` it is not looked for, as nothing so high can hide there.
 */
export function truePeakBeside(samples: Float32Array, at: number, from: number): number {
  const near = Math.max(Math.abs(samples[at + REACH - 1]), Math.abs(samples[at + REACH]));
  if (near < from * 0.5) return near;
  let peak = near;
  for (const taps of PHASES) {
    let sum = 0;
    for (let n = 0; n < 2 * REACH; n++) sum += taps[n] * samples[at + n];
    peak = Math.max(peak, Math.abs(sum));
  }
  return peak;
}

/** Finds the largest sample between samples as well (ITU-R BS.1770-5, annex 2). */
export interface TruePeakMeasure {
  push(samples: Float32Array): void;
  /** Linear; at least the largest sample. */
  result(): number;
}

/** Measures one channel that is given piece by piece. */
export function createTruePeakMeasure(): TruePeakMeasure {
  const history = new Float32Array(2 * REACH);
  let peak = 0;

  /** Looks between samples REACH − 1 and REACH of a stretch; near small samples there is nothing to find. */
  const look = (samples: Float32Array, at: number): void => {
    const near = Math.max(Math.abs(samples[at + REACH - 1]), Math.abs(samples[at + REACH]));
    peak = Math.max(peak, near);
    // Between two samples a band-limited signal rises at most so far above them before others would show.
    if (near < peak * 0.5) return;
    const middle = between(PHASES[1], samples, at);
    peak = Math.max(peak, middle);
    // Up to 20 kHz nothing rises more than this above the places a quarter of a sample beside it.
    if (Math.max(near, middle) < peak * 0.75) return;
    peak = Math.max(peak, between(PHASES[0], samples, at), between(PHASES[2], samples, at));
  };

  const between = (taps: Float64Array, samples: Float32Array, at: number): number => {
    let sum = 0;
    for (let n = 0; n < 2 * REACH; n++) sum += taps[n] * samples[at + n];
    return Math.abs(sum);
  };

  return {
    push(samples) {
      const stretch = new Float32Array(history.length + samples.length);
      stretch.set(history);
      stretch.set(samples, history.length);
      for (let at = 1; at + 2 * REACH <= stretch.length; at++) look(stretch, at);
      history.set(stretch.subarray(stretch.length - history.length));
    },
    result() {
      // What the last samples would still do, with silence after them.
      const tail = new Float32Array(4 * REACH);
      tail.set(history);
      const before = peak;
      for (let at = 1; at + 2 * REACH <= tail.length; at++) look(tail, at);
      const result = peak;
      peak = before;
      return result;
    },
  };
}
