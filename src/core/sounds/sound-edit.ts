import type { SoundClip } from '../engine/sound-player';

/** What of a sound is played, and how it begins, ends and goes round, in samples of the whole sound. */
export interface SoundEdit {
  inSample: number;
  /** The sample after the last. */
  outSample: number;
  fadeInSamples: number;
  fadeOutSamples: number;
  /** Where a loop goes back from `loopTo`; null for the whole of what is played. */
  loop: { from: number; to: number } | null;
}

/** The shortest stretch that can be played: 10 ms. */
export const SHORTEST_SAMPLES = 480;
/** Where a loop's end runs into what led up to its beginning: 10 ms. */
const SEAM_SAMPLES = 480;

export const wholeSound = (lengthSamples: number): SoundEdit => ({
  inSample: 0,
  outSample: lengthSamples,
  fadeInSamples: 0,
  fadeOutSamples: 0,
  loop: null,
});

/** The nearest edit that makes sense for a sound of this length. */
export function fitEdit(edit: SoundEdit, lengthSamples: number): SoundEdit {
  const clamp = (value: number, low: number, high: number) => Math.round(Math.min(Math.max(value, low), Math.max(low, high)));
  const inSample = clamp(edit.inSample, 0, lengthSamples - SHORTEST_SAMPLES);
  const outSample = clamp(edit.outSample, inSample + Math.min(SHORTEST_SAMPLES, lengthSamples), lengthSamples);
  const length = outSample - inSample;
  const fadeInSamples = clamp(edit.fadeInSamples, 0, length);
  const fadeOutSamples = clamp(edit.fadeOutSamples, 0, length - fadeInSamples);
  let loop: SoundEdit['loop'] = null;
  if (edit.loop && length >= 2 * SHORTEST_SAMPLES) {
    const from = clamp(edit.loop.from, inSample, outSample - SHORTEST_SAMPLES);
    loop = { from, to: clamp(edit.loop.to, from + SHORTEST_SAMPLES, outSample) };
  }
  return { inSample, outSample, fadeInSamples, fadeOutSamples, loop };
}

/**
 * The place nearest to a sample where the sound goes through zero upwards, so that it can be cut
 * without a click; the sample itself where there is none within `reach`.
 */
export function nearestZeroCrossing(channels: readonly Float32Array[], at: number, reach: number): number {
  const length = channels[0].length;
  const sum = (i: number) => channels.reduce((total, samples) => total + samples[i], 0);
  const crosses = (i: number) => i > 0 && i < length && sum(i - 1) < 0 && sum(i) >= 0;
  for (let distance = 0; distance <= reach; distance++) {
    if (crosses(at - distance)) return at - distance;
    if (crosses(at + distance)) return at + distance;
  }
  return Math.min(Math.max(at, 0), length);
}

/**
 * A sound as it is played: cut, faded, and with a loop whose end runs into what led up to its
 * beginning. Where nothing led up to it, the two meet as they are. The sound itself is not touched.
 */
export function applyEdit(channels: readonly Float32Array[], edit: SoundEdit, loops: boolean): SoundClip {
  const { inSample, outSample, fadeInSamples, fadeOutSamples, loop } = fitEdit(edit, channels[0].length);
  const cut = channels.slice(0, 2).map((samples) => samples.slice(inSample, outSample));
  const length = outSample - inSample;
  const loopFrom = loops && loop ? loop.from - inSample : 0;
  const loopTo = loops && loop ? loop.to - inSample : length;
  const seam = loops ? Math.min(SEAM_SAMPLES, loopFrom, loopTo - loopFrom) : 0;
  cut.forEach((samples, channel) => {
    // The stretch that leads up to the loop is taken as it was, before any fade.
    for (let i = 0; i < seam; i++) {
      const share = (i + 1) / seam;
      const before = channels[channel][inSample + loopFrom - seam + i];
      samples[loopTo - seam + i] += share * (before - samples[loopTo - seam + i]);
    }
    if (!loops) for (let i = 0; i < fadeOutSamples; i++) samples[length - 1 - i] *= Math.sin((Math.PI / 2) * (i / fadeOutSamples));
  });
  const [left, right = left.slice()] = cut;
  return { left, right, loop: loops, loopFrom, loopTo, fadeInSamples };
}
