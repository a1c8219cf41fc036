import { createKernel, type KernelSpectrum } from '../kernel/kernel';
import { createRealFft } from '../dsp/real-fft';

/** Samples taken at once: 10.7 ms. */
export const FILTER_BLOCK = 512;
const SIZE = 2 * FILTER_BLOCK;
const BINS = FILTER_BLOCK + 1;
/** The kernel takes two at a time. */
const EVEN_BINS = BINS + 1;

export interface BleedFilterOptions {
  /** Length of the modelled path in blocks. */
  partitions: number;
  /** How much of the path is still the same a block later; the rest is allowed to have changed. */
  transition: number;
  /** What may have changed at any time, however small a path seems, as a share of its power. */
  change: number;
  /** Rooms fade, so each later partition is surer to be small. */
  fadePerPartition: number;
  /** Partitions that are constrained at each block. */
  constrained: number;
}

/** Memory of what is in the track besides the references. */
const NEAR_MEMORY = 0.8;
const LEAST_POWER = 1e-9;

/**
 * Takes what is known of several references out of a track, block by block: a partitioned-block Kalman filter
 * in the frequency domain (Enzner and Vary, 2006; Kuech, Mabande and Enzner, 2014). Where somebody speaks into
 * the track the filter trusts what it learned and hardly moves.
 */
export interface BleedFilter {
  /** All {@link FILTER_BLOCK} samples long; `out` may be `track`. It has then to learn from it. */
  takeAway(track: Float32Array, references: readonly Float32Array[], out: Float32Array): void;
  /** Learns from the last block, whole or in so many parts one after another, the first of them 0. */
  learn(part?: number, parts?: number): void;
  /** The same of the block before the last one: `oldest` are the two blocks of each reference with which the path now begins, one after another. */
  takeAwayBefore(track: Float32Array, oldest: readonly Float32Array[], out: Float32Array): void;
  /** The references of the last blocks were others, oldest first: as many as there are partitions. What was learned stays. */
  recall(block: readonly Float32Array[]): void;
  /** Goes on with all that another one learned, which has as many references and partitions. */
  adopt(other: BleedFilter): void;
  readonly learned: readonly LearnedPath[];
}

/** Of one reference, a spectrum a partition. */
interface LearnedPath {
  readonly weightsRe: readonly KernelSpectrum[];
  readonly weightsIm: readonly KernelSpectrum[];
  readonly uncertainty: readonly KernelSpectrum[];
}

interface Reference extends LearnedPath {
  /** Spectra of the last blocks, newest at `newest`. */
  re: KernelSpectrum[];
  im: KernelSpectrum[];
  last: Float64Array;
  /** What may have changed of each part of the path: later parts change by less. */
  changes: Float64Array;
}

/** @param powers of the paths from the references into the track, as they were measured: squared gains */
export function createBleedFilter(powers: readonly number[], { partitions, transition, change, fadePerPartition, constrained: atOnce }: BleedFilterOptions): BleedFilter {
  const count = powers.length;
  const fft = createRealFft(SIZE);
  const kernel = createKernel(1, (count * partitions * 5 + 6) * (EVEN_BINS * 8 + 16));
  const spectrum = () => kernel.spectrum(EVEN_BINS);
  const spectra = () => Array.from({ length: partitions }, spectrum);
  const references = powers.map((power): Reference => {
    const changes = Float64Array.from({ length: partitions }, (_, p) => change * power * fadePerPartition ** p);
    const reference = { re: spectra(), im: spectra(), last: new Float64Array(FILTER_BLOCK), weightsRe: spectra(), weightsIm: spectra(), uncertainty: spectra(), changes };
    // Nothing is known of it yet but how strong it may be.
    reference.uncertainty.forEach(({ values }, p) => values.fill(power * fadePerPartition ** p));
    return reference;
  });
  const time = new Float64Array(SIZE);
  const [re, im, errorRe, errorIm, gain] = [spectrum(), spectrum(), spectrum(), spectrum(), spectrum()];
  const near = new Float64Array(BINS);
  const error = new Float64Array(FILTER_BLOCK);
  let newest = 0;
  let constrained = 0;
  let blocks = 0;

  const takeIn = (reference: Reference, samples: Float32Array): void => {
    time.set(reference.last);
    time.set(samples, FILTER_BLOCK);
    reference.last.set(samples);
    fft.forward(time, reference.re[newest].values, reference.im[newest].values);
  };
  const placeOf = (p: number): number => (newest - p + partitions) % partitions;

  /** What the references make in the track, as the filter has it; the last half of `time` afterwards. */
  const estimate = (): void => {
    re.values.fill(0);
    im.values.fill(0);
    for (let n = 0; n < count; n++) {
      const { re: xRe, im: xIm, weightsRe, weightsIm } = references[n];
      for (let p = 0; p < partitions; p++) {
        const place = placeOf(p);
        kernel.partitionEstimate(xRe[place].address, xIm[place].address, weightsRe[p].address, weightsIm[p].address, re.address, im.address, EVEN_BINS);
      }
    }
    fft.inverse(re.values, im.values, time);
  };

  /** How much of the error is to be believed. */
  const weighError = (): void => {
    time.fill(0, 0, FILTER_BLOCK);
    time.set(error, FILTER_BLOCK);
    fft.forward(time, errorRe.values, errorIm.values);
    const memory = blocks === 0 ? 0 : NEAR_MEMORY;
    gain.values.fill(LEAST_POWER);
    for (let k = 0; k < BINS; k++) {
      near[k] = memory * near[k] + (1 - memory) * (errorRe.values[k] ** 2 + errorIm.values[k] ** 2);
      gain.values[k] += 2 * near[k];
    }
    for (let n = 0; n < count; n++) {
      const { re: xRe, im: xIm, uncertainty } = references[n];
      for (let p = 0; p < partitions; p++) {
        const place = placeOf(p);
        kernel.partitionUnsure(xRe[place].address, xIm[place].address, uncertainty[p].address, gain.address, EVEN_BINS);
      }
    }
  };

  const learnPartitions = ({ re: xRe, im: xIm, weightsRe, weightsIm, uncertainty, changes }: Reference, from: number, to: number): void => {
    for (let p = from; p < to; p++) {
      const place = placeOf(p);
      kernel.partitionLearn(xRe[place].address, xIm[place].address, weightsRe[p].address, weightsIm[p].address, uncertainty[p].address, errorRe.address, errorIm.address, gain.address, transition, changes[p], EVEN_BINS);
    }
  };

  /** A partition is a block long in time: what circular convolution put behind it is taken away. A few partitions at a time are enough. */
  const constrain = ({ weightsRe, weightsIm }: LearnedPath, p: number): void => {
    fft.inverse(weightsRe[p].values, weightsIm[p].values, time);
    time.fill(0, FILTER_BLOCK);
    fft.forward(time, weightsRe[p].values, weightsIm[p].values);
  };

  const next = (samples: readonly Float32Array[]): void => {
    newest = (newest + 1) % partitions;
    for (let k = 0; k < references.length; k++) takeIn(references[k], samples[k]);
  };

  const takeEstimate = (track: Float32Array, out: Float32Array): void => {
    estimate();
    for (let i = 0; i < FILTER_BLOCK; i++) error[i] = track[i] - time[FILTER_BLOCK + i];
    out.set(error);
  };

  return {
    learned: references,
    recall: next,
    takeAway(track, samples, out) {
      next(samples);
      takeEstimate(track, out);
    },
    takeAwayBefore(track, oldest, out) {
      // The newest one is no longer needed, and the oldest takes its place.
      for (let k = 0; k < count; k++) {
        time.set(oldest[k]);
        fft.forward(time, references[k].re[newest].values, references[k].im[newest].values);
      }
      newest = (newest - 1 + partitions) % partitions;
      takeEstimate(track, out);
    },
    adopt(other) {
      const copy = (to: readonly KernelSpectrum[], from: readonly KernelSpectrum[]): void => to.forEach(({ values }, p) => values.set(from[p].values));
      for (let k = 0; k < count; k++) {
        copy(references[k].weightsRe, other.learned[k].weightsRe);
        copy(references[k].weightsIm, other.learned[k].weightsIm);
        copy(references[k].uncertainty, other.learned[k].uncertainty);
      }
    },
    learn(part = 0, parts = 1) {
      if (part === 0) weighError();
      const [from, to] = [Math.floor((part * partitions) / parts), Math.floor(((part + 1) * partitions) / parts)];
      for (let n = 0; n < count; n++) {
        learnPartitions(references[n], from, to);
        for (let k = 0; k < atOnce; k++) {
          const p = (constrained + Math.floor((k * partitions) / atOnce)) % partitions;
          if (p >= from && p < to) constrain(references[n], p);
        }
      }
      if (part < parts - 1) return;
      constrained = (constrained + 1) % partitions;
      blocks++;
    },
  };
}
