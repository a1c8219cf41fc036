import { KWeightedEnergy } from './k-weighting';

/** Loudness of a whole sound (ITU-R BS.1770-5, EBU R 128, EBU Tech 3341 and 3342). */
export interface Loudness {
  /** Gated loudness of the whole, LUFS; `-Infinity` when nothing passes the gate. */
  integrated: number;
  /** The loudest 400 ms, LUFS. */
  momentaryMax: number;
  /** The loudest 3 s, LUFS; of a shorter sound, all of it. */
  shortTermMax: number;
  /** Loudness range, LU; 0 for less than 3 s. */
  range: number;
}

/** Blocks of 400 ms overlap by three quarters, so everything is summed in steps of 100 ms. */
export const STEP_SECONDS = 0.1;
const MOMENTARY_STEPS = 4;
const SHORT_TERM_STEPS = 30;
const ABSOLUTE_GATE = -70;
const RELATIVE_GATE_LU = 10;
const RANGE_GATE_LU = 20;

/** Measures a sound that is given piece by piece, in constant memory per minute. */
export interface LoudnessMeasure {
  /** Channels of one length: one or two, each with weight 1. */
  push(channels: readonly Float32Array[]): void;
  result(): Loudness;
}

/** @throws {RangeError} for a rate below 8 kHz or anything but one or two channels */
export function createLoudnessMeasure(sampleRate: number, channelCount: number): LoudnessMeasure {
  if (!(sampleRate >= 8000)) throw new RangeError(`sampleRate must be at least 8000, received ${sampleRate}.`);
  if (channelCount !== 1 && channelCount !== 2) throw new RangeError(`channelCount must be 1 or 2, received ${channelCount}.`);
  const weighted = new KWeightedEnergy(sampleRate, channelCount);
  const stepSamples = Math.round(sampleRate * STEP_SECONDS);
  /** Mean square of each whole step, all channels together. */
  const steps: number[] = [];
  let power = 0;
  let inStep = 0;

  return {
    push(channels) {
      const { length } = channels[0];
      for (let from = 0; from < length; ) {
        const to = Math.min(length, from + stepSamples - inStep);
        for (let channel = 0; channel < channelCount; channel++) power += weighted.next(channels[channel], channel, from, to);
        inStep += to - from;
        from = to;
        if (inStep < stepSamples) continue;
        steps.push(power / stepSamples);
        power = 0;
        inStep = 0;
      }
    },
    result: () => loudnessOfSteps(steps, power / Math.max(1, inStep)),
  };
}

/** @param steps mean square of each whole step of {@link STEP_SECONDS}, K-weighted, all channels together @param rest of what is left after them */
export function loudnessOfSteps(steps: readonly number[], rest: number): Loudness {
  const momentary = windows(steps, MOMENTARY_STEPS);
  const shortTerm = windows(steps, SHORT_TERM_STEPS);
  const whole = steps.length > 0 ? mean(steps) : rest;
  return {
    integrated: lufs(gated(momentary, RELATIVE_GATE_LU)),
    momentaryMax: lufs(momentary.length > 0 ? largest(momentary) : whole),
    shortTermMax: lufs(shortTerm.length > 0 ? largest(shortTerm) : whole),
    range: loudnessRange(shortTerm),
  };
}

/** Mean squares of all windows of that many steps. */
function windows(steps: readonly number[], length: number): number[] {
  const found: number[] = [];
  let sum = 0;
  for (let k = 0; k < steps.length; k++) {
    sum += steps[k] - (k >= length ? steps[k - length] : 0);
    if (k >= length - 1) found.push(Math.max(0, sum / length));
  }
  return found;
}

/** Mean of what passes the absolute gate and then the relative one (BS.1770-5, annex 1, equations 5 to 7). */
function gated(blocks: readonly number[], relativeLu: number): number {
  const loud = blocks.filter((block) => lufs(block) > ABSOLUTE_GATE);
  if (loud.length === 0) return 0;
  const gate = lufs(mean(loud)) - relativeLu;
  const kept = loud.filter((block) => lufs(block) > gate);
  return kept.length === 0 ? 0 : mean(kept);
}

/** From the 10th to the 95th percentile of the gated short-term loudness (EBU Tech 3342). */
function loudnessRange(shortTerm: readonly number[]): number {
  const loud = shortTerm.map(lufs).filter((value) => value > ABSOLUTE_GATE);
  if (loud.length === 0) return 0;
  const gate = lufs(mean(loud.map((value) => 10 ** ((value + 0.691) / 10)))) - RANGE_GATE_LU;
  const kept = loud.filter((value) => value > gate).sort((a, b) => a - b);
  const at = (share: number) => kept[Math.round(share * (kept.length - 1))];
  return kept.length === 0 ? 0 : at(0.95) - at(0.1);
}

const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
/** Hours have more windows than a function takes arguments. */
const largest = (values: readonly number[]): number => values.reduce((most, value) => Math.max(most, value), 0);
const lufs = (meanSquare: number): number => -0.691 + 10 * Math.log10(meanSquare);
