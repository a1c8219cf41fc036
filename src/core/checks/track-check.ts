import { gainToDb, powerToDb } from '../dsp/decibels';
import { createLoudnessMeasure, type Loudness } from '../measure/loudness';
import { createTruePeakMeasure } from '../measure/true-peak';

/** A run of samples held at full scale. */
export interface ClippedRun {
  atSample: number;
  lengthSamples: number;
}

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
  hum: { hz: 50 | 60; db: number } | null;
  /** Share of the track in which somebody speaks, 0 to 1. */
  speechShare: number;
  /** Mean of all samples as a share of full scale. */
  dc: number;
}

export const MOST_RUNS = 50;
const RATE = 48000;
/** One reading every 100 ms. */
const STEP = RATE / 10;
/** From here on a sample counts as full scale: 24 bits less one part in ten thousand. */
const FULL_SCALE = 0.9999;
/** Single samples at full scale are no clipping. */
const SHORTEST_RUN = 3;
/** Speech stands this far above the noise and above this level, dB. */
const SPEECH_ABOVE_NOISE = 12;
const SPEECH_AT_LEAST = -55;
/** Quieter than the least 24-bit step: digital silence. */
const DIGITAL_SILENCE_DB = -135;
const HUM_HARMONICS = [1, 2, 3];
/** Hum must stand this far above what is beside it, and above this level, to be called hum. */
const HUM_PROMINENCE_DB = 12;
const HUM_AT_LEAST_DB = -85;

/** Measures one track that is given piece by piece, in memory that grows by a few numbers a second. */
export interface TrackChecker {
  /** One or two channels of equal length. */
  push(channels: readonly Float32Array[]): void;
  result(): TrackCheck;
}

/** @param channelCount 1 or 2 */
export function createTrackChecker(channelCount: number): TrackChecker {
  const loudness = createLoudnessMeasure(RATE, channelCount);
  const truePeaks = Array.from({ length: channelCount }, createTruePeakMeasure);
  const clipping = createClipFinder();
  const second = new Float32Array(RATE);
  /** Mean square of each step. */
  const steps: number[] = [];
  /** Power at every looked-at frequency of each whole second, one after another. */
  const lines: number[] = [];
  let length = 0;
  let peak = 0;
  let sum = 0;
  let stepPower = 0;
  let inStep = 0;
  let inSecond = 0;

  return {
    push(channels) {
      loudness.push(channels);
      channels.forEach((samples, k) => truePeaks[k].push(samples));
      const frames = channels[0].length;
      for (let i = 0; i < frames; i++) {
        let largest = 0;
        let mean = 0;
        let power = 0;
        for (const samples of channels) {
          const sample = samples[i];
          mean += sample;
          power += sample * sample;
          largest = Math.max(largest, Math.abs(sample));
        }
        mean /= channelCount;
        sum += mean;
        peak = Math.max(peak, largest);
        clipping.push(largest, length + i);
        stepPower += power / channelCount;
        if (++inStep === STEP) {
          steps.push(stepPower / STEP);
          stepPower = inStep = 0;
        }
        second[inSecond++] = mean;
        if (inSecond === RATE) {
          for (const hz of HUM_FREQUENCIES) lines.push(powerAt(second, hz));
          inSecond = 0;
        }
      }
      length += frames;
    },
    result() {
      const noise = noiseOf(steps);
      const loud = loudness.result();
      return {
        lengthSamples: length,
        peakDb: finite(gainToDb(peak)),
        truePeakDb: finite(gainToDb(Math.max(0, ...truePeaks.map((one) => one.result())))),
        ...loudnessFields(loud),
        ...clipping.result(length),
        noiseFloorDb: noise.floorDb,
        quietAtSample: noise.quietStep === null ? null : noise.quietStep * STEP,
        hum: humOf(lines, steps, noise.floorDb),
        speechShare: speechShare(steps, noise.floorDb),
        dc: length === 0 ? 0 : sum / length,
      };
    },
  };
}

function loudnessFields({ integrated, momentaryMax, shortTermMax, range }: Loudness) {
  return { integratedLufs: finite(integrated), momentaryMaxLufs: finite(momentaryMax), shortTermMaxLufs: finite(shortTermMax), rangeLu: range };
}

function createClipFinder() {
  const clipped: ClippedRun[] = [];
  let runs = 0;
  let since = -1;
  const end = (at: number): void => {
    if (since >= 0 && at - since >= SHORTEST_RUN) {
      runs++;
      if (clipped.length < MOST_RUNS) clipped.push({ atSample: since, lengthSamples: at - since });
    }
    since = -1;
  };
  return {
    push(largest: number, at: number): void {
      if (largest < FULL_SCALE) end(at);
      else if (since < 0) since = at;
    },
    result(length: number) {
      end(length);
      return { clippedRuns: runs, clipped };
    },
  };
}

/** Noise is what stays the same for a second: within this, dB. Speech never does. */
const STEADY_DB = 4;
const STEADY_STEPS = 10;

/** The quietest second of steady sound. Null where there is none: pauses that are digitally silent hold no noise. */
function noiseOf(steps: readonly number[]): { floorDb: number | null; quietStep: number | null } {
  let floorDb: number | null = null;
  let quietStep: number | null = null;
  for (let k = 0; k + STEADY_STEPS <= steps.length; k++) {
    let low = Infinity;
    let high = 0;
    let sum = 0;
    for (let n = k; n < k + STEADY_STEPS; n++) {
      low = Math.min(low, steps[n]);
      high = Math.max(high, steps[n]);
      sum += steps[n];
    }
    if (powerToDb(low) < DIGITAL_SILENCE_DB || powerToDb(high / low) > STEADY_DB) continue;
    const db = powerToDb(sum / STEADY_STEPS);
    if (floorDb === null || db < floorDb) [floorDb, quietStep] = [db, k];
  }
  return { floorDb, quietStep };
}

function speechShare(steps: readonly number[], floorDb: number | null): number {
  if (steps.length === 0) return 0;
  const gate = Math.max(SPEECH_AT_LEAST, Math.min((floorDb ?? -Infinity) + SPEECH_ABOVE_NOISE, -30));
  return steps.filter((power) => powerToDb(power) > gate).length / steps.length;
}

/** For 50 and 60 Hz: each harmonic and what lies 4 Hz to either side of it. */
const HUM_FREQUENCIES = [50, 60].flatMap((base) => HUM_HARMONICS.flatMap((k) => [k * base, k * base - 4, k * base + 4]));

/** Mean power of the sinusoid at a frequency in one second under a Hann window (Goertzel, 1958). */
function powerAt(second: Float32Array, hz: number): number {
  const step = 2 * Math.cos((2 * Math.PI * hz) / RATE);
  let s1 = 0;
  let s2 = 0;
  for (let i = 0; i < second.length; i++) {
    const s0 = second[i] * HANN[i] + step * s1 - s2;
    s2 = s1;
    s1 = s0;
  }
  const magnitude = s1 * s1 + s2 * s2 - step * s1 * s2;
  // A sine of amplitude a gives (a · length / 4)² under this window; its power is a² / 2.
  return (magnitude * 16) / (second.length * second.length) / 2;
}

const HANN = Float32Array.from({ length: RATE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / RATE));

function humOf(lines: readonly number[], steps: readonly number[], floorDb: number | null): TrackCheck['hum'] {
  if (floorDb === null) return null;
  const perSecond = HUM_FREQUENCIES.length;
  const quiet: number[] = [];
  for (let second = 0; second * perSecond < lines.length; second++) {
    const power = steps.slice(second * 10, second * 10 + 10);
    const levelDb = powerToDb(power.reduce((sum, one) => sum + one, 0) / power.length);
    if (levelDb > DIGITAL_SILENCE_DB && levelDb < floorDb + 10) quiet.push(second);
  }
  if (quiet.length === 0) return null;
  const mean = (place: number) => quiet.reduce((sum, second) => sum + lines[second * perSecond + place], 0) / quiet.length;
  const candidates = ([50, 60] as const).map((hz, family) => {
    let hum = 0;
    let beside = 0;
    HUM_HARMONICS.forEach((_, k) => {
      const place = (family * HUM_HARMONICS.length + k) * 3;
      hum += mean(place);
      beside += (mean(place + 1) + mean(place + 2)) / 2;
    });
    return { hz, db: powerToDb(hum), prominence: powerToDb(hum) - powerToDb(beside) };
  });
  const [strongest] = candidates.sort((a, b) => b.db - a.db);
  if (!(strongest.prominence > HUM_PROMINENCE_DB && strongest.db > HUM_AT_LEAST_DB)) return null;
  return { hz: strongest.hz, db: strongest.db };
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
