import type { Kernel } from '../kernel/kernel';

/** Loudness is summed in steps of 100 ms, as EBU Tech 3341 asks of a live meter. */
const STEP_SAMPLES = 4800;
/** Short-term loudness: the last 3 s. */
const SHORT_TERM_STEPS = 30;
/** One meter in the kernel: four pairs of filter states, then the weighted sum of the last block. */
export const METER_BYTES = 80;
const STATES = 8;

/** Short-term loudness of one stereo signal at 48 kHz (ITU-R BS.1770-5, EBU Tech 3341); the kernel weights and sums it. */
export interface LoudnessMeter {
  /** Where the kernel keeps it. */
  readonly address: number;
  /** Counts the block that was last weighed. */
  count(length: number): void;
  /** Counts a block of exact silence without filtering it. */
  countSilence(length: number): void;
  /** Begins anew, with nothing heard. */
  reset(): void;
  /** Whether the last 3 s were all heard. */
  whole(): boolean;
  /** LUFS over the last 3 s; `-Infinity` for silence. */
  shortTerm(): number;
}

export function createLoudnessMeter(kernel: Kernel): LoudnessMeter {
  const address = kernel.reserve(METER_BYTES);
  const states = kernel.doubles.subarray(address / 8, address / 8 + STATES);
  const weighted = address / 8 + STATES;
  const steps = new Float64Array(SHORT_TERM_STEPS);
  const open = new Float64Array(1);
  let step = 0;
  let heard = 0;
  let inStep = 0;
  let ringing = false;

  const advance = (power: number, length: number): void => {
    open[0] += power;
    inStep += length;
    if (inStep < STEP_SAMPLES) return;
    steps[step] = open[0] / inStep;
    step = (step + 1) % SHORT_TERM_STEPS;
    if (heard < SHORT_TERM_STEPS) heard++;
    open[0] = 0;
    inStep = 0;
  };

  return {
    address,
    count(length) {
      ringing = true;
      advance(kernel.doubles[weighted], length);
    },
    countSilence(length) {
      // What the filters would still ring with is far below anything a meter shows, and would only
      // end in denormals.
      if (ringing) states.fill(0);
      ringing = false;
      advance(0, length);
    },
    reset() {
      states.fill(0);
      steps.fill(0);
      open[0] = inStep = heard = 0;
    },
    whole: () => heard === SHORT_TERM_STEPS,
    shortTerm() {
      let total = 0;
      for (let k = 0; k < SHORT_TERM_STEPS; k++) total += steps[k];
      return loudnessOf(total / SHORT_TERM_STEPS);
    },
  };
}

/**
 * Loudness in LUFS of a mean square of K-weighted channels, summed over channels with weight 1
 * (left and right; BS.1770-5 annex 1, equation 2).
 */
export function loudnessOf(meanSquare: number): number {
  return -0.691 + 10 * Math.log10(meanSquare);
}
