import { createFft } from '../dsp/fft';

const FRAME = 512;
const HOP = FRAME / 2;
const BINS = FRAME / 2 + 1;
/** In which speech is told apart best: below is rumble, above little of it gets through a coder. */
const [LOWEST_HZ, HIGHEST_HZ] = [250, 5500];
/** Frames and bins over which a microphone's own spectrum is smoothed before it is divided by it. */
const [SMOOTH_FRAMES, SMOOTH_BINS] = [3, 2];
/** How slowly the long-term spectrum of what was sent follows: some seconds of speech. */
const LONG_TERM = 1 / 200;
const LEAST_POWER = 1e-9;
/**
 * What was sent counts as so many times its long-term power at most: what comes first, before that is known, would outweigh all that
 * comes in the next half minute.
 */
const MOST_OVER = 10;

/** Samples it takes and gives at once, at 16 kHz: 16 ms. */
export const WHITEN_HOP = HOP;

/**
 * Makes two signals fit for comparing. The microphone is divided by its own spectrum of the moment, so that nobody who
 * speaks into it outweighs the rest; what was sent is divided by its long-term spectrum, and of its loudness of the moment the
 * root is kept: an echo is as loud and as quiet as what made it. Both are late by the same frame.
 */
export class WhitenPair {
  readonly #fft = createFft(FRAME);
  readonly #window = Float64Array.from({ length: FRAME }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / FRAME));
  readonly #microphone = new Float64Array(FRAME);
  readonly #sent = new Float64Array(FRAME);
  readonly #outMicrophone = new Float64Array(FRAME);
  readonly #outSent = new Float64Array(FRAME);
  readonly #re = new Float64Array(FRAME);
  readonly #im = new Float64Array(FRAME);
  /** Power of the last frames of the microphone by bin, summed over neighbouring bins. */
  readonly #powers = Array.from({ length: SMOOTH_FRAMES }, () => new Float64Array(BINS));
  readonly #own = new Float64Array(BINS);
  readonly #longTerm = new Float64Array(BINS);
  readonly #inBand: readonly [from: number, to: number];
  #frame = 0;
  /** Frames learned from. */
  #learned = 0;

  constructor(sampleRate = 16_000) {
    this.#inBand = [Math.round((LOWEST_HZ * FRAME) / sampleRate), Math.round((HIGHEST_HZ * FRAME) / sampleRate)];
  }

  /**
   * @param microphone {@link WHITEN_HOP} samples
   * @param sent as many of what was sent in the same time
   * @param sounds whether something was sent worth learning from
   */
  push(microphone: Float32Array, sent: Float32Array, sounds: boolean, outMicrophone: Float64Array, outSent: Float64Array, at: number): void {
    shiftIn(this.#microphone, microphone);
    shiftIn(this.#sent, sent);
    const [re, im] = [this.#re, this.#im];
    for (let i = 0; i < FRAME; i++) {
      re[i] = this.#window[i] * this.#microphone[i];
      im[i] = this.#window[i] * this.#sent[i];
    }
    // Two real signals in one transform.
    this.#fft.forward(re, im);
    this.#weigh(sounds);
    this.#fft.inverse(re, im);
    addFrame(this.#outMicrophone, re, this.#window);
    addFrame(this.#outSent, im, this.#window);
    outMicrophone.set(this.#outMicrophone.subarray(0, HOP), at);
    outSent.set(this.#outSent.subarray(0, HOP), at);
  }

  #weigh(sounds: boolean): void {
    const [re, im] = [this.#re, this.#im];
    const [from, to] = this.#inBand;
    const powers = this.#powers[this.#frame++ % SMOOTH_FRAMES];
    if (sounds) this.#learned++;
    const rate = Math.max(LONG_TERM, 1 / Math.max(1, this.#learned));
    for (let k = 0; k < BINS; k++) {
      const other = (FRAME - k) % FRAME;
      const [mRe, mIm] = [0.5 * (re[k] + re[other]), 0.5 * (im[k] - im[other])];
      this.#own[k] = mRe * mRe + mIm * mIm;
      const [sRe, sIm] = [0.5 * (im[k] + im[other]), 0.5 * (re[other] - re[k])];
      const power = sRe * sRe + sIm * sIm;
      if (sounds) this.#longTerm[k] += rate * (power - this.#longTerm[k]);
      const inside = k >= from && k <= to;
      const long = this.#longTerm[k] + LEAST_POWER;
      const counted = power > MOST_OVER * long ? power / Math.sqrt(MOST_OVER) : long * Math.sqrt(power / long + 1e-6);
      const sentGain = inside ? 1 / Math.sqrt(counted) : 0;
      // The microphone's gain is known only when its neighbours are.
      re[k] = mRe;
      im[k] = mIm;
      re[other] = k === 0 || k === FRAME / 2 ? re[k] : sRe * sentGain;
      im[other] = k === 0 || k === FRAME / 2 ? 0 : sIm * sentGain;
    }
    let sum = 0;
    for (let k = 0; k < Math.min(SMOOTH_BINS, BINS); k++) sum += this.#own[k];
    for (let k = 0; k < BINS; k++) {
      if (k + SMOOTH_BINS < BINS) sum += this.#own[k + SMOOTH_BINS];
      if (k > SMOOTH_BINS) sum -= this.#own[k - SMOOTH_BINS - 1];
      powers[k] = sum;
    }
    re[0] = im[0] = re[FRAME / 2] = im[FRAME / 2] = 0;
    for (let k = 1; k < FRAME / 2; k++) {
      let power = LEAST_POWER;
      for (let f = 0; f < SMOOTH_FRAMES; f++) power += this.#powers[f][k];
      const gain = k >= from && k <= to ? 1 / Math.sqrt(power) : 0;
      const [mRe, mIm, sRe, sIm] = [re[k] * gain, im[k] * gain, re[FRAME - k], im[FRAME - k]];
      // Together again: the microphone real, what was sent imaginary.
      re[k] = mRe - sIm;
      im[k] = mIm + sRe;
      re[FRAME - k] = mRe + sIm;
      im[FRAME - k] = sRe - mIm;
    }
  }
}

function shiftIn(frame: Float64Array, hop: Float32Array): void {
  frame.copyWithin(0, HOP);
  frame.set(hop, HOP);
}

/** Overlap and add; the first half is finished afterwards. */
function addFrame(out: Float64Array, frame: Float64Array, window: Float64Array): void {
  out.copyWithin(0, HOP);
  out.fill(0, HOP);
  for (let i = 0; i < FRAME; i++) out[i] += window[i] * frame[i];
}
