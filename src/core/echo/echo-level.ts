import { createFft } from '../dsp/fft';
import { isMainsHum } from '../dsp/mains';

const FRAME = 4096;
const HOP = 2048;
/** Where a voice has its energy: also below what a telephone carries, or the level is that of another sound than was sent. */
const [LOWEST_HZ, HIGHEST_HZ] = [100, 4000];
/** So near to the mains' harmonics nothing counts, Hz: the width of a frame's window. */
const HUM_WIDTH_HZ = 8;
const LEAST_POWER = 1e-12;
/** Frames in which less than this was sent tell nothing of the way (mean square, −65 dBFS), and with fewer than this in each half nothing is told: a second in all. */
const SENT_LEAST = 10 ** -6.5;
const FEWEST_FRAMES = 4;
/** Bins on each side over which what is left of the microphone is smoothed. */
const SMOOTH = 16;
/** Both halves of the frames tell of one way: where they agree less than this (1 is all), what was said meanwhile outweighs it. */
const LEAST_AGREEMENT = 0.4;
/** How often frames are weighed anew by what the way does not explain in them. */
const PASSES = 3;

/**
 * How loud what was sent comes back at a known delay: the energy a voice keeps on the way, dB, whatever the way does to single
 * frequencies. The transfer function is found by least squares in each bin, frames weighing the less the more else is in them
 * (iteratively reweighted), and twice, from every other pair of frames: what both have in common is the way, and not what was
 * said meanwhile.
 */
export class EchoLevel {
  readonly #fft = createFft(FRAME);
  readonly #window = Float64Array.from({ length: FRAME }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / FRAME));
  readonly #from: number;
  readonly #bins: number;
  readonly #counted: readonly number[];

  constructor(sampleRate = 16_000) {
    this.#from = Math.round((LOWEST_HZ * FRAME) / sampleRate);
    this.#bins = Math.round((HIGHEST_HZ * FRAME) / sampleRate) - this.#from + 1;
    this.#counted = Array.from({ length: this.#bins }, (_, k) => k).filter((k) => !isMainsHum(((this.#from + k) * sampleRate) / FRAME, HUM_WIDTH_HZ));
  }

  /**
   * @param microphone what came in
   * @param sent of the same length, already as late as the echo
   * @returns dB; −Infinity where there is too little in common, or too little was sent
   */
  measure(microphone: Float32Array, sent: Float32Array): number {
    const frames = this.#spectra(microphone, sent);
    const halves = [0, 1].map((which) => frames.filter((_, k) => ((k >> 1) & 1) === which));
    if (halves.some(({ length }) => length < FEWEST_FRAMES)) return -Infinity;
    const [a, b] = halves.map((half) => this.#way(half));
    let [back, out, first, second] = [0, 0, 0, 0];
    for (const k of this.#counted) {
      let power = 0;
      for (const { sRe, sIm } of frames) power += sRe[k] * sRe[k] + sIm[k] * sIm[k];
      back += power * (a.re[k] * b.re[k] + a.im[k] * b.im[k]);
      first += power * (a.re[k] ** 2 + a.im[k] ** 2);
      second += power * (b.re[k] ** 2 + b.im[k] ** 2);
      out += power;
    }
    return back > LEAST_AGREEMENT * Math.sqrt(first * second) ? 10 * Math.log10(back / out) : -Infinity;
  }

  #spectra(microphone: Float32Array, sent: Float32Array): Frame[] {
    const [re, im] = [new Float64Array(FRAME), new Float64Array(FRAME)];
    const frames: Frame[] = [];
    for (let at = 0; at + FRAME <= microphone.length; at += HOP) {
      if (meanSquare(sent.subarray(at, at + FRAME)) < SENT_LEAST) continue;
      for (let i = 0; i < FRAME; i++) {
        re[i] = this.#window[i] * microphone[at + i];
        im[i] = this.#window[i] * sent[at + i];
      }
      this.#fft.forward(re, im);
      const make = () => new Float64Array(this.#bins);
      const frame: Frame = { mRe: make(), mIm: make(), sRe: make(), sIm: make() };
      for (let b = 0; b < this.#bins; b++) {
        const k = this.#from + b;
        const other = FRAME - k;
        frame.mRe[b] = 0.5 * (re[k] + re[other]);
        frame.mIm[b] = 0.5 * (im[k] - im[other]);
        frame.sRe[b] = 0.5 * (im[k] + im[other]);
        frame.sIm[b] = 0.5 * (re[other] - re[k]);
      }
      frames.push(frame);
    }
    return frames;
  }

  #way(frames: readonly Frame[]): { re: Float64Array; im: Float64Array } {
    const make = () => new Float64Array(this.#bins);
    const way = { re: make(), im: make() };
    const left = make();
    const smooth = make();
    for (let pass = 0; pass < PASSES; pass++) {
      const sums = { re: make(), im: make(), power: make() };
      for (const { mRe, mIm, sRe, sIm } of frames) {
        for (let k = 0; k < this.#bins; k++) {
          const re = mRe[k] - way.re[k] * sRe[k] + way.im[k] * sIm[k];
          const im = mIm[k] - way.re[k] * sIm[k] - way.im[k] * sRe[k];
          left[k] = re * re + im * im;
        }
        smoothed(left, smooth);
        for (let k = 0; k < this.#bins; k++) {
          const weight = 1 / (smooth[k] + LEAST_POWER);
          sums.re[k] += weight * (mRe[k] * sRe[k] + mIm[k] * sIm[k]);
          sums.im[k] += weight * (mIm[k] * sRe[k] - mRe[k] * sIm[k]);
          sums.power[k] += weight * (sRe[k] * sRe[k] + sIm[k] * sIm[k]);
        }
      }
      for (let k = 0; k < this.#bins; k++) {
        way.re[k] = sums.power[k] > 0 ? sums.re[k] / sums.power[k] : 0;
        way.im[k] = sums.power[k] > 0 ? sums.im[k] / sums.power[k] : 0;
      }
    }
    return way;
  }
}

interface Frame {
  mRe: Float64Array;
  mIm: Float64Array;
  sRe: Float64Array;
  sIm: Float64Array;
}

function meanSquare(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return sum / samples.length;
}

function smoothed(power: Float64Array, out: Float64Array): void {
  let sum = 0;
  for (let k = 0; k < Math.min(SMOOTH, power.length); k++) sum += power[k];
  for (let k = 0; k < power.length; k++) {
    if (k + SMOOTH < power.length) sum += power[k + SMOOTH];
    if (k > SMOOTH) sum -= power[k - SMOOTH - 1];
    out[k] = Math.max(0, sum) / (2 * SMOOTH + 1);
  }
}

/** How much quieter an echo reads than it is, dB: for the room's tail, and for a coder of so many kbit/s for a voice (measured with Opus, 2 % of packets lost; null: none). */
export const codingLossDb = (kbps: number | null): number => (kbps === null ? 0.5 : kbps >= 96 ? 0.8 : kbps >= 64 ? 1 : kbps >= 48 ? 1.2 : 1.45);
