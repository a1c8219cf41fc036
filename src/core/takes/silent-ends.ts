import { dbToGain } from '../dsp/decibels';
import { SAMPLE_RATE } from './chunks';

/** Louder than this is somebody or something, dBFS (root mean square of 10 ms). */
const HEARD_DB = -50;
const STEP = SAMPLE_RATE / 100;
/** What stays before the first and after the last of it, samples. */
export const LEAD = 0.3 * SAMPLE_RATE;
export const TAIL = 1.2 * SAMPLE_RATE;
/** Over so much of that the sound comes and goes, samples. */
const FADE_IN = 0.1 * SAMPLE_RATE;
const FADE_OUT = 0.8 * SAMPLE_RATE;

/** A stretch of a sound, samples. */
export interface Kept {
  from: number;
  to: number;
}

/** Finds where a sound at 48 kHz, given piece by piece, begins and ends to be heard. */
export interface SoundEnds {
  push(channels: readonly Float32Array[]): void;
  /** With a little before and after; null where nothing is heard at all. */
  result(): Kept | null;
}

export function createSoundEnds(): SoundEnds {
  const least = dbToGain(HEARD_DB) ** 2 * STEP;
  let length = 0;
  let inStep = 0;
  let powers: number[] = [];
  let first = -1;
  let last = -1;
  return {
    push(channels) {
      const frames = channels[0].length;
      for (let at = 0; at < frames; ) {
        const to = Math.min(frames, at + STEP - inStep);
        channels.forEach((samples, c) => {
          let power = powers[c] ?? 0;
          for (let i = at; i < to; i++) power += samples[i] * samples[i];
          powers[c] = power;
        });
        length += to - at;
        inStep += to - at;
        at = to;
        if (inStep < STEP) continue;
        if (powers.some((power) => power > least)) {
          if (first < 0) first = length - STEP;
          last = length;
        }
        powers = [];
        inStep = 0;
      }
    },
    result: () => (first < 0 ? null : { from: Math.max(0, first - LEAD), to: Math.min(length, last + TAIL) }),
  };
}

/**
 * Gain at a sample of a sound that was cut: it comes and goes along a quarter of a sine. An end at which nothing was cut off is
 * left as it is.
 */
export function gainAtEnds({ from, to }: Kept, lengthSamples: number, sample: number): number {
  const rising = from > 0 ? Math.min(1, (sample - from) / FADE_IN) : 1;
  const falling = to < lengthSamples ? Math.min(1, (to - sample) / FADE_OUT) : 1;
  return Math.sin((Math.PI / 2) * Math.max(0, rising)) * Math.sin((Math.PI / 2) * Math.max(0, falling));
}

/** Whether {@link gainAtEnds} is 1 at all samples from `first` to `end`. */
export function isWholeBetween({ from, to }: Kept, lengthSamples: number, first: number, end: number): boolean {
  return (from === 0 || first >= from + FADE_IN) && (to === lengthSamples || end <= to - FADE_OUT);
}
