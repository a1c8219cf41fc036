import { bessel0 } from '../dsp/bessel';
import { MeasuringRoom } from '../kernel/measuring';

/** Samples looked at between two samples: BS.1770-5 annex 2 asks for at least four times 48 kHz. */
const OVERSAMPLING = 4;
/** Samples on either side that shape the one in between. Shorter filters read up to 0.6 dB low. */
const REACH = 32;

/** The interpolation filters of the phases between two samples: sinc under a Kaiser window. */
const PHASES: Float64Array[] = Array.from({ length: OVERSAMPLING - 1 }, (_, k) => phase((k + 1) / OVERSAMPLING));
const [BEFORE, HALF, AFTER] = PHASES;

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

/** Up to 20 kHz nothing rises more than this above the places a quarter of a sample beside it, as a share. */
const BESIDE_HALF = 0.75;

/**
 * The largest value at and after the middle of the 64 samples from `at` on, samples between included, for a limiter; what is
 * certainly below `from` is not looked at closely.
 */
export function truePeakBeside(samples: Float32Array, at: number, from: number): number {
  const near = Math.max(Math.abs(samples[at + REACH - 1]), Math.abs(samples[at + REACH]));
  if (near < from * 0.5) return near;
  let sum = 0;
  for (let n = 0; n < 2 * REACH; n++) sum += HALF[n] * samples[at + n];
  const half = Math.max(near, Math.abs(sum));
  if (half < from * BESIDE_HALF) return half;
  // Two sums that do not wait for each other take as long as one.
  let before = 0;
  let after = 0;
  for (let n = 0; n < 2 * REACH; n++) {
    const sample = samples[at + n];
    before += BEFORE[n] * sample;
    after += AFTER[n] * sample;
  }
  return Math.max(half, Math.abs(before), Math.abs(after));
}

/** Finds the largest sample between samples as well (ITU-R BS.1770-5, annex 2). */
export interface TruePeakMeasure {
  push(samples: Float32Array): void;
  /** Linear; at least the largest sample. */
  result(): number;
}

function openRoom() {
  const measuring = new MeasuringRoom();
  const taps = measuring.reserve(PHASES.length * 2 * REACH * 8);
  PHASES.forEach((phase, k) => measuring.doubles(taps + k * 2 * REACH * 8, 2 * REACH).set(phase));
  return { measuring, taps };
}

let room: ReturnType<typeof openRoom> | null = null;

/** Looks beside and between all samples of a stretch but its first and last {@link REACH}; near small samples there is nothing to find. */
function largest(stretch: Float32Array, peak: number): number {
  const { measuring, taps } = (room ??= openRoom());
  const from = measuring.free;
  measuring.need(from, stretch.length * 4);
  measuring.floats(from, stretch.length).set(stretch);
  return measuring.functions.largestBetween(from + 4, stretch.length - 2 * REACH, taps, REACH, peak);
}

/** Measures one channel that is given piece by piece. */
export function createTruePeakMeasure(): TruePeakMeasure {
  const history = new Float32Array(2 * REACH);
  let peak = 0;
  return {
    push(samples) {
      const stretch = new Float32Array(history.length + samples.length);
      stretch.set(history);
      stretch.set(samples, history.length);
      peak = largest(stretch, peak);
      history.set(stretch.subarray(stretch.length - history.length));
    },
    result() {
      // What the last samples would still do, with silence after them.
      const tail = new Float32Array(4 * REACH);
      tail.set(history);
      return largest(tail, peak);
    },
  };
}
