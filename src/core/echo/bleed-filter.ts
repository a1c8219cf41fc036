import { createRealFft } from '../dsp/real-fft';

/** Samples taken at once: 10.7 ms. */
export const FILTER_BLOCK = 512;
const SIZE = 2 * FILTER_BLOCK;
const BINS = FILTER_BLOCK + 1;
export interface BleedFilterOptions {
  /** Length of the modelled path in blocks. */
  partitions: number;
  /** How much of the path is still the same a block later; the rest is allowed to have changed. */
  transition: number;
  /** What may have changed at any time, however small the path seems: about the squared gain of a path that jumps. */
  change: number;
  /** Uncertainty of the first partition at the beginning; rooms fade, so each later one is surer to be small. */
  firstUncertainty: number;
  fadePerPartition: number;
  /** Partitions that are constrained at each block. */
  constrained: number;
}

/** For a take that lies there: a path of 171 ms that stays. */
const OF_A_TAKE: BleedFilterOptions = { partitions: 16, transition: 0.9998, change: 0, firstUncertainty: 1e-2, fadePerPartition: 0.7, constrained: 2 };
/** Memory of what is in the track besides the references. */
const NEAR_MEMORY = 0.8;
const LEAST_POWER = 1e-9;

/**
 * Takes what is known of several references out of a track, block by block: a partitioned-block Kalman filter
 * in the frequency domain (Enzner and Vary, 2006; Kuech, Mabande and Enzner, 2014). Where somebody speaks into
 * the track the filter trusts what it learned and hardly moves.
 */
export interface BleedFilter {
  /** All {@link FILTER_BLOCK} samples long; `out` may be `track`. */
  process(track: Float32Array, references: readonly Float32Array[], out: Float32Array): void;
  /** The references of the last blocks were others, oldest first: as many as there are partitions. What was learned stays. */
  recall(block: readonly Float32Array[]): void;
}

interface Reference {
  /** Spectra of the last blocks, newest at `newest`. */
  re: Float64Array[];
  im: Float64Array[];
  last: Float64Array;
  weightsRe: Float64Array[];
  weightsIm: Float64Array[];
  uncertainty: Float64Array[];
}

export function createBleedFilter(count: number, { partitions, transition, change, firstUncertainty, fadePerPartition, constrained: atOnce }: BleedFilterOptions = OF_A_TAKE): BleedFilter {
  const fft = createRealFft(SIZE);
  const spectra = () => Array.from({ length: partitions }, () => new Float64Array(BINS));
  const references = Array.from({ length: count }, (): Reference => ({
    re: spectra(),
    im: spectra(),
    last: new Float64Array(FILTER_BLOCK),
    weightsRe: spectra(),
    weightsIm: spectra(),
    uncertainty: Array.from({ length: partitions }, (_, p) => new Float64Array(BINS).fill(firstUncertainty * fadePerPartition ** p)),
  }));
  const time = new Float64Array(SIZE);
  const re = new Float64Array(BINS);
  const im = new Float64Array(BINS);
  const errorRe = new Float64Array(BINS);
  const errorIm = new Float64Array(BINS);
  const near = new Float64Array(BINS);
  const gain = new Float64Array(BINS);
  const error = new Float64Array(FILTER_BLOCK);
  /** Later parts of a path change by less. */
  const changes = Float64Array.from({ length: partitions }, (_, p) => change * fadePerPartition ** p);
  let newest = 0;
  let constrained = 0;
  let blocks = 0;

  const takeIn = (reference: Reference, samples: Float32Array): void => {
    time.set(reference.last);
    time.set(samples, FILTER_BLOCK);
    reference.last.set(samples);
    fft.forward(time, reference.re[newest], reference.im[newest]);
  };

  /** What the references make in the track, as the filter has it; the last half of `time` afterwards. */
  const estimate = (): void => {
    re.fill(0);
    im.fill(0);
    for (const reference of references) {
      for (let p = 0; p < partitions; p++) {
        const place = (newest - p + partitions) % partitions;
        const [xRe, xIm, wRe, wIm] = [reference.re[place], reference.im[place], reference.weightsRe[p], reference.weightsIm[p]];
        for (let k = 0; k < BINS; k++) {
          re[k] += wRe[k] * xRe[k] - wIm[k] * xIm[k];
          im[k] += wRe[k] * xIm[k] + wIm[k] * xRe[k];
        }
      }
    }
    fft.inverse(re, im, time);
  };

  const learn = (): void => {
    time.fill(0, 0, FILTER_BLOCK);
    time.set(error, FILTER_BLOCK);
    fft.forward(time, errorRe, errorIm);
    const memory = blocks === 0 ? 0 : NEAR_MEMORY;
    for (let k = 0; k < BINS; k++) {
      near[k] = memory * near[k] + (1 - memory) * (errorRe[k] ** 2 + errorIm[k] ** 2);
      gain[k] = 2 * near[k] + LEAST_POWER;
    }
    for (const reference of references) {
      for (let p = 0; p < partitions; p++) {
        const place = (newest - p + partitions) % partitions;
        const [xRe, xIm, uncertainty] = [reference.re[place], reference.im[place], reference.uncertainty[p]];
        for (let k = 0; k < BINS; k++) gain[k] += uncertainty[k] * (xRe[k] ** 2 + xIm[k] ** 2);
      }
    }
    const kept = transition * transition;
    for (const reference of references) {
      for (let p = 0; p < partitions; p++) {
        const place = (newest - p + partitions) % partitions;
        const [xRe, xIm, wRe, wIm, uncertainty] = [reference.re[place], reference.im[place], reference.weightsRe[p], reference.weightsIm[p], reference.uncertainty[p]];
        for (let k = 0; k < BINS; k++) {
          const step = uncertainty[k] / gain[k];
          wRe[k] = transition * (wRe[k] + step * (xRe[k] * errorRe[k] + xIm[k] * errorIm[k]));
          wIm[k] = transition * (wIm[k] + step * (xRe[k] * errorIm[k] - xIm[k] * errorRe[k]));
          uncertainty[k] = kept * (1 - 0.5 * step * (xRe[k] ** 2 + xIm[k] ** 2)) * uncertainty[k] + (1 - kept) * (wRe[k] ** 2 + wIm[k] ** 2 + changes[p]);
        }
      }
      for (let n = 0; n < atOnce; n++) constrain(reference, (constrained + Math.floor((n * partitions) / atOnce)) % partitions);
    }
    constrained = (constrained + 1) % partitions;
    blocks++;
  };

  /** A partition is a block long in time: what circular convolution put behind it is taken away. A few partitions at a time are enough. */
  const constrain = ({ weightsRe, weightsIm }: Reference, p: number): void => {
    fft.inverse(weightsRe[p], weightsIm[p], time);
    time.fill(0, FILTER_BLOCK);
    fft.forward(time, weightsRe[p], weightsIm[p]);
  };

  const next = (samples: readonly Float32Array[]): void => {
    newest = (newest + 1) % partitions;
    for (let k = 0; k < references.length; k++) takeIn(references[k], samples[k]);
  };

  return {
    recall: next,
    process(track, samples, out) {
      next(samples);
      estimate();
      for (let i = 0; i < FILTER_BLOCK; i++) error[i] = track[i] - time[FILTER_BLOCK + i];
      out.set(error);
      learn();
    },
  };
}
