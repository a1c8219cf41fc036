import { gainToDb } from '../dsp/decibels';
import { createLoudnessMeasure, type Loudness } from '../measure/loudness';
import { createTruePeakMeasure } from '../measure/true-peak';
import { createClipFinder, FULL_SCALE, type ClippedRun } from './clipping';
import { createHumFinder, type Hum } from './hum';
import { mean } from './mean';
import { aboveNoise, STEPS_PER_SECOND } from './own-speech';
import { createNoiseFinder } from './noise-floor';

/** Grows whenever the same sound would be measured as something else: what is kept from before is then measured anew. */
export const TRACK_CHECK_VERSION = 1;

/** What was measured of one track. Levels in dBFS; `null` is silence, or nothing to measure. */
export interface TrackCheck {
  lengthSamples: number;
  peakDb: number | null;
  /** ITU-R BS.1770-5, annex 2. */
  truePeakDb: number | null;
  /** LUFS; null when nothing passes the gate. */
  integratedLufs: number | null;
  momentaryMaxLufs: number | null;
  shortTermMaxLufs: number | null;
  rangeLu: number;
  clippedRuns: number;
  /** The first of them, at most {@link MOST_RUNS}. */
  clipped: ClippedRun[];
  /** Level of the quietest second of steady sound; null where no second is steady. */
  noiseFloorDb: number | null;
  /** Where that second begins. */
  quietAtSample: number | null;
  /** Mains hum and its harmonics in quiet seconds; null where none stands out. */
  hum: Hum | null;
  /** Share of the track in which somebody speaks, 0 to 1. */
  speechShare: number;
  /** Mean of all samples as a share of full scale. */
  dc: number;
}

const RATE = 48000;
const STEP = RATE / STEPS_PER_SECOND;

/** Measures one track that is given piece by piece, in memory that grows by a few numbers a second. */
export interface TrackChecker {
  /** One or two channels of equal length. */
  push(channels: readonly Float32Array[]): void;
  result(): TrackCheck;
  /** Mean square of each tenth of a second so far. */
  steps(): readonly number[];
}

/** @param channelCount 1 or 2 */
export function createTrackChecker(channelCount: number): TrackChecker {
  const loudness = createLoudnessMeasure(RATE, channelCount);
  const truePeaks = Array.from({ length: channelCount }, createTruePeakMeasure);
  const clipping = createClipFinder();
  const noise = createNoiseFinder();
  const hum = createHumFinder();
  const second = new Float32Array(RATE);
  /** Mean square of each step. */
  const steps: number[] = [];
  const step = { sum: 0, power: 0, largest: 0 };
  let length = 0;
  let peak = 0;
  let sum = 0;
  let inStep = 0;
  let stepPower = 0;

  /** Samples that lie in one step: the mean of their channels goes to `second`. */
  const measure = (channels: readonly Float32Array[], from: number, to: number): void => {
    const into = second.subarray(length % RATE, (length % RATE) + to - from);
    if (channels.length === 1) measureMono(channels[0], from, to, into, step);
    else measureStereo(channels[0], channels[1], from, to, into, step);
    if (step.largest >= FULL_SCALE || clipping.open()) for (let i = from; i < to; i++) clipping.push(Math.max(...channels.map((samples) => Math.abs(samples[i]))), length + i - from);
    sum += step.sum;
    stepPower += step.power;
    peak = Math.max(peak, step.largest);
    length += to - from;
    inStep += to - from;
  };

  return {
    push(channels) {
      loudness.push(channels);
      channels.forEach((samples, k) => truePeaks[k].push(samples));
      const frames = channels[0].length;
      for (let from = 0; from < frames; ) {
        const to = Math.min(frames, from + STEP - inStep);
        measure(channels, from, to);
        from = to;
        if (inStep < STEP) continue;
        steps.push(stepPower / STEP);
        stepPower = inStep = 0;
        noise.push(steps);
        if (length % RATE === 0) hum.push(second, mean(steps.slice(-STEPS_PER_SECOND)), noise.result().floorDb);
      }
    },
    steps: () => steps,
    result() {
      const { floorDb, quietStep } = noise.result();
      const loud = loudness.result();
      const sounds = aboveNoise(steps, floorDb);
      return {
        lengthSamples: length,
        peakDb: finite(gainToDb(peak)),
        truePeakDb: finite(gainToDb(Math.max(0, ...truePeaks.map((one) => one.result())))),
        ...loudnessFields(loud),
        ...clipping.result(length),
        noiseFloorDb: floorDb,
        quietAtSample: quietStep === null ? null : quietStep * STEP,
        hum: hum.result(floorDb),
        speechShare: steps.length === 0 ? 0 : sounds.filter(Boolean).length / steps.length,
        dc: length === 0 ? 0 : sum / length,
      };
    },
  };
}

function measureMono(samples: Float32Array, from: number, to: number, into: Float32Array, out: { sum: number; power: number; largest: number }): void {
  let sum = 0;
  let power = 0;
  let largest = 0;
  for (let i = from; i < to; i++) {
    const sample = samples[i];
    sum += sample;
    power += sample * sample;
    const size = Math.abs(sample);
    if (size > largest) largest = size;
    into[i - from] = sample;
  }
  out.sum = sum;
  out.power = power;
  out.largest = largest;
}

function measureStereo(left: Float32Array, right: Float32Array, from: number, to: number, into: Float32Array, out: { sum: number; power: number; largest: number }): void {
  let sum = 0;
  let power = 0;
  let largest = 0;
  for (let i = from; i < to; i++) {
    const l = left[i];
    const r = right[i];
    const mid = (l + r) / 2;
    sum += mid;
    power += (l * l + r * r) / 2;
    const size = Math.max(Math.abs(l), Math.abs(r));
    if (size > largest) largest = size;
    into[i - from] = mid;
  }
  out.sum = sum;
  out.power = power;
  out.largest = largest;
}

function loudnessFields({ integrated, momentaryMax, shortTermMax, range }: Loudness) {
  return { integratedLufs: finite(integrated), momentaryMaxLufs: finite(momentaryMax), shortTermMaxLufs: finite(shortTermMax), rangeLu: range };
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
