import { dbToGain } from '../dsp/decibels';
import { LIMITER_MARGIN_DB, LIMITER_RELEASE_SECONDS } from '../dsp/true-peak-limiter';
import { KWeightedEnergy } from './k-weighting';
import { loudnessOfSteps, STEP_SECONDS, type Loudness } from './loudness';

const RATE = 48_000;
/** Peaks and energies are kept for stretches of 10 ms: little more than an hour's outline, and as fine as the limiter's way down. */
const STRETCH = 480;
const STRETCHES_IN_STEP = (STEP_SECONDS * RATE) / STRETCH;
/** What the limiter gives back in one stretch, as a share of what is missing. */
const GIVEN_BACK = 1 - Math.exp(-STRETCH / (LIMITER_RELEASE_SECONDS * RATE));
/** Between samples peaks are higher: of voices by so much, in the middle. */
const BETWEEN = 1.03;
/** However much the limiter takes, no more than this is put on top, dB. */
const MOST_ON_TOP_DB = 18;
const HALVINGS = 13;

/** Measures a sound at 48 kHz, and tells how loud it will be behind a true-peak limiter without sending it through. */
export interface LimitedLoudness {
  /** Channels of one length: one or two. */
  push(channels: readonly Float32Array[]): void;
  /** As it is (ITU-R BS.1770-5). */
  loudness(): Loudness;
  /** About how loud it is, LUFS, behind `gainDb` and a limiter at `ceilingDb` (dBTP). */
  behindLimiter(gainDb: number, ceilingDb: number): number;
  /** The gain, dB, with which it is about so loud behind a limiter. */
  gainFor(targetLufs: number, ceilingDb: number): number;
}

/** @param frames the sound's length, samples @param channelCount 1 or 2 */
export function createLimitedLoudness(frames: number, channelCount: number): LimitedLoudness {
  const weighted = new KWeightedEnergy(RATE, channelCount);
  const peaks = new Float32Array(Math.ceil(frames / STRETCH));
  /** Sum of the squares of each stretch, K-weighted, all channels together. */
  const energies = new Float64Array(peaks.length);
  let length = 0;

  /** Mean square of each whole step, and of what is left after the last one. */
  const stepsOf = (energyOf: (stretch: number) => number): { steps: number[]; rest: number } => {
    const steps: number[] = [];
    let sum = 0;
    for (let k = 0; k < peaks.length; k++) {
      sum += energyOf(k);
      if ((k + 1) % STRETCHES_IN_STEP !== 0 || (k + 1) * STRETCH > length) continue;
      steps.push(sum / (STRETCHES_IN_STEP * STRETCH));
      sum = 0;
    }
    return { steps, rest: sum / Math.max(1, length - steps.length * STRETCHES_IN_STEP * STRETCH) };
  };

  const behindLimiter = (gainDb: number, ceilingDb: number): number => {
    const gain = dbToGain(gainDb);
    const ceiling = dbToGain(ceilingDb - LIMITER_MARGIN_DB) / (BETWEEN * gain);
    let current = 1;
    const { steps, rest } = stepsOf((k) => {
      const before = current;
      current += (1 - current) * GIVEN_BACK;
      if (peaks[k] * current > ceiling) current = ceiling / peaks[k];
      // It goes down in the middle of a stretch, as a rule, and comes back all through it.
      const mean = (before + current) / 2;
      return energies[k] * (gain * mean) ** 2;
    });
    return loudnessOfSteps(steps, rest).integrated;
  };

  return {
    push(channels) {
      const count = channels[0].length;
      for (let from = 0; from < count; ) {
        const stretch = Math.floor(length / STRETCH);
        const to = Math.min(count, from + STRETCH - (length % STRETCH));
        for (let c = 0; c < channelCount; c++) {
          energies[stretch] += weighted.next(channels[c], c, from, to);
          peaks[stretch] = largestOf(channels[c], from, to, peaks[stretch]);
        }
        length += to - from;
        from = to;
      }
    },
    loudness() {
      const { steps, rest } = stepsOf((k) => energies[k]);
      return loudnessOfSteps(steps, rest);
    },
    behindLimiter,
    gainFor(targetLufs, ceilingDb) {
      const { steps, rest } = stepsOf((k) => energies[k]);
      let low = targetLufs - loudnessOfSteps(steps, rest).integrated;
      let high = low + MOST_ON_TOP_DB;
      // Where nothing is taken there is nothing to put on top.
      if (behindLimiter(low, ceilingDb) >= targetLufs) return low;
      for (let k = 0; k < HALVINGS; k++) {
        const middle = (low + high) / 2;
        if (behindLimiter(middle, ceilingDb) < targetLufs) low = middle;
        else high = middle;
      }
      return (low + high) / 2;
    },
  };
}

function largestOf(samples: Float32Array, from: number, to: number, least: number): number {
  let most = least;
  for (let i = from; i < to; i++) {
    const size = Math.abs(samples[i]);
    if (size > most) most = size;
  }
  return most;
}
