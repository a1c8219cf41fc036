import { createFft } from '../dsp/fft';

/** Frames of 32 ms at 16 kHz, four on each other. */
const FRAME = 512;
const HOP = FRAME / 4;
const BIN_HZ = 16_000 / FRAME;
/** Power is smoothed over so many bins and frames to each side: 200 Hz and 16 ms. */
const BINS_ASIDE = Math.round(200 / BIN_HZ);
const FRAMES_ASIDE = 2;
/** No place counts more than so many times the middle one: silence between words would outweigh everything. */
const MOST = 30;
const LOWEST = Math.floor(300 / BIN_HZ);
const HIGHEST = Math.ceil(6000 / BIN_HZ);

const WINDOW = Float64Array.from({ length: FRAME }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FRAME));

/** Gives every moment and band of a signal a weight. */
export interface Whitener {
  /** A signal of the same length, weighted as the one the whitener was made of. */
  apply(signal: Float32Array): Float32Array<ArrayBuffer>;
}

/**
 * Divides a signal at 16 kHz by its own power, in short frames and narrow bands, so that what is found in the pauses of
 * a voice counts, and not what the voice covers: the filter that is best against noise of that spectrum (Eckart, 1952),
 * from moment to moment.
 */
export function createWhitener(signal: Float32Array): Whitener {
  const fft = createFft(FRAME);
  const frames = Math.max(0, Math.floor((signal.length - FRAME) / HOP) + 1);
  const half = FRAME / 2;
  const re = new Float64Array(FRAME);
  const im = new Float64Array(FRAME);
  const power = new Float64Array(frames * half);
  // Two frames in one transform, here and below.
  const transform = (of: Float32Array, frame: number): void => {
    for (let i = 0; i < FRAME; i++) {
      re[i] = of[frame * HOP + i] * WINDOW[i];
      im[i] = frame + 1 < frames ? of[(frame + 1) * HOP + i] * WINDOW[i] : 0;
    }
    fft.forward(re, im);
  };
  for (let frame = 0; frame < frames; frame += 2) {
    transform(signal, frame);
    for (let k = 1; k < half; k++) {
      const j = FRAME - k;
      power[frame * half + k] = ((re[k] + re[j]) ** 2 + (im[k] - im[j]) ** 2) / 4;
      if (frame + 1 < frames) power[(frame + 1) * half + k] = ((im[k] + im[j]) ** 2 + (re[j] - re[k]) ** 2) / 4;
    }
  }
  const weight = weights(power, frames, half);
  return {
    apply(other) {
      const out = new Float32Array(other.length);
      for (let frame = 0; frame < frames; frame += 2) {
        transform(other, frame);
        const next = Math.min(frame + 1, frames - 1) * half;
        for (let k = 0; k <= half; k++) {
          const j = (FRAME - k) % FRAME;
          const a = k < half ? weight[frame * half + k] : 0;
          const b = k < half ? weight[next + k] : 0;
          const [aRe, aIm] = [((re[k] + re[j]) / 2) * a, ((im[k] - im[j]) / 2) * a];
          const [bRe, bIm] = [((im[k] + im[j]) / 2) * b, ((re[j] - re[k]) / 2) * b];
          re[k] = aRe - bIm;
          im[k] = aIm + bRe;
          re[j] = aRe + bIm;
          im[j] = bRe - aIm;
        }
        fft.inverse(re, im);
        for (let i = 0; i < FRAME; i++) {
          out[frame * HOP + i] += re[i];
          if (frame + 1 < frames) out[(frame + 1) * HOP + i] += im[i];
        }
      }
      return out;
    },
  };
}

/** One over the smoothed power of each place, with a limit. */
function weights(power: Float64Array, frames: number, half: number): Float64Array {
  const across = new Float64Array(power.length);
  for (let frame = 0; frame < frames; frame++) {
    let sum = 0;
    for (let k = -BINS_ASIDE; k < half; k++) {
      if (k + BINS_ASIDE < half) sum += power[frame * half + k + BINS_ASIDE];
      if (k - BINS_ASIDE - 1 >= 0) sum -= power[frame * half + k - BINS_ASIDE - 1];
      if (k >= 0) across[frame * half + k] = sum;
    }
  }
  const smooth = new Float64Array(power.length);
  const inBand: number[] = [];
  for (let frame = 0; frame < frames; frame++) {
    const from = Math.max(0, frame - FRAMES_ASIDE);
    const to = Math.min(frames - 1, frame + FRAMES_ASIDE);
    for (let k = LOWEST; k <= HIGHEST; k++) {
      let sum = 0;
      for (let other = from; other <= to; other++) sum += across[other * half + k];
      const mean = sum / (to - from + 1);
      smooth[frame * half + k] = mean;
      if (mean > 0) inBand.push(mean);
    }
  }
  if (inBand.length === 0) return smooth;
  const middle = Float64Array.from(inBand).sort()[inBand.length >> 1];
  for (let i = 0; i < smooth.length; i++) smooth[i] = smooth[i] > 0 ? 1 / Math.max(smooth[i], middle / MOST) : 0;
  return smooth;
}
