import { SINC_REACH, stereoInRing } from './sinc';
import { DRIFT_PPM, EVENED, FLOWING, GLITCHES, LOST, OUT_FROM, OUT_TO, PEAK, RATE, RING_FRAMES, WAITING, WRITTEN, type SoundRing } from './sound-ring';

/** What must be left in the ring in the worst moment, at first and at most, seconds. Every outage asks for more. */
const FIRST_MARGIN_SECONDS = 0.012;
const MOST_MARGIN_SECONDS = 0.12;
const MORE_MARGIN_SECONDS = 0.008;
/** More than this above what is needed, all the time, is delay for nothing: the reader had stood still. */
const EXCESS_SECONDS = 0.06;
/** How long the mean of what waits looks back. */
const MEAN_SECONDS = 2;
/** A connection gets so long to find its ordinary fill, which then is what is held. */
const SETTLE_SECONDS = 4;
/** So far away from it the other clock is taken to run apart. Until then samples pass untouched. */
const APART_SECONDS = 0.002;
/** A controller of second order, critically damped: half a minute until the clocks agree, without a wobble anybody could hear. */
const OMEGA = 0.12;
const MOST_CORRECTION = 0.01;

/**
 * Reads a ring whose writer has another clock. While both clocks agree samples pass bit by bit; as soon as they are seen to run
 * apart the sound is resampled by as little as that takes (windowed sinc, over 130 dB), so that none is ever lost. Another
 * nominal rate is resampled from the beginning. When nothing comes the reader gives silence and says from where to where.
 */
export class ClockBridge {
  readonly #ring: SoundRing;
  readonly #rate: number;
  /** All frames ever written, and the reader's place among them. */
  #written = 0;
  #last: number;
  #at = 0;
  #flowing = false;
  #everFlowed = false;
  #largestPiece = 0;
  #margin = FIRST_MARGIN_SECONDS;
  #mean = 0;
  /** Frames since sound began to flow. */
  #since = 0;
  /** Fill that is held; null until it is known. */
  #target: number | null = null;
  #tracking = false;
  /** Learnt difference of the clocks, as a share. */
  #drift = 0;
  #ratio = 1;
  #least = Infinity;
  #looked = 0;
  #fadeIn = 0;

  /** @param sampleRate the reader's, Hz */
  constructor(ring: SoundRing, sampleRate: number) {
    this.#ring = ring;
    this.#rate = sampleRate;
    this.#last = Atomics.load(ring.counters, WRITTEN);
    ring.facts[DRIFT_PPM] = NaN;
    ring.facts[FLOWING] = 0;
  }

  /**
   * The next block. False, and silence, where there is no sound.
   * @param clock the reader's own clock at the block's beginning, frames
   */
  read(left: Float32Array, right: Float32Array, length: number, clock: number): boolean {
    this.#look();
    const nominal = this.#nominal();
    const needed = length * nominal * this.#ratio + SINC_REACH;
    if (!this.#flowing && !this.#start(nominal, clock)) return this.#silence(left, right, length);
    const fill = this.#written - this.#at;
    if (fill < needed || fill > RING_FRAMES - 1024) {
      this.#stop(clock);
      return this.#silence(left, right, length);
    }
    if (nominal === 1 && this.#ratio === 1) this.#copy(left, right, length);
    else this.#resample(left, right, length, nominal * this.#ratio);
    if (this.#fadeIn > 0) this.#fade(left, right, length);
    this.#notePeak(left, right, length);
    this.#follow(fill, length, nominal);
    return true;
  }

  #nominal(): number {
    const rate = this.#ring.counters[RATE];
    return rate > 0 ? rate / this.#rate : 1;
  }

  #look(): void {
    const now = Atomics.load(this.#ring.counters, WRITTEN);
    const piece = (now - this.#last) | 0;
    this.#last = now;
    this.#written += piece;
    // What piled up while nobody read says nothing about the size of a piece.
    if (piece > this.#largestPiece && piece < 0.1 * this.#rate) this.#largestPiece = piece;
  }

  /** Frames to have in the ring when sound begins to flow. */
  #cushion(nominal: number): number {
    return Math.round(this.#largestPiece + this.#margin * this.#rate * nominal + SINC_REACH);
  }

  #start(nominal: number, clock: number): boolean {
    const cushion = this.#cushion(nominal);
    const waits = this.#written - this.#at;
    if (this.#largestPiece === 0 || waits < cushion) return false;
    const { facts } = this.#ring;
    if (this.#everFlowed) facts[LOST] += Math.round((waits - cushion) / nominal);
    this.#at = Math.floor(this.#written - cushion);
    this.#flowing = this.#everFlowed = true;
    this.#fadeIn = 1;
    facts[FLOWING] = 1;
    facts[OUT_TO] = clock;
    this.#settle();
    return true;
  }

  #stop(clock: number): void {
    const { facts } = this.#ring;
    this.#flowing = false;
    facts[FLOWING] = 0;
    facts[GLITCHES]++;
    facts[OUT_FROM] = clock;
    this.#margin = Math.min(MOST_MARGIN_SECONDS, this.#margin + MORE_MARGIN_SECONDS);
    // What is in the ring and too little is not played later: sound that is late stays late for ever.
    if (this.#written - this.#at > RING_FRAMES - 1024) this.#at = this.#written;
  }

  #silence(left: Float32Array, right: Float32Array, length: number): false {
    left.fill(0, 0, length);
    right.fill(0, 0, length);
    if (this.#everFlowed) this.#ring.facts[LOST] += length;
    return false;
  }

  #settle(): void {
    this.#mean = this.#written - this.#at;
    this.#since = 0;
    this.#target = null;
    this.#least = Infinity;
    this.#looked = 0;
    if (!this.#tracking) this.#ratio = 1;
  }

  #copy(left: Float32Array, right: Float32Array, length: number): void {
    const { left: from, right: also } = this.#ring;
    for (let i = 0; i < length; i++) {
      const place = (this.#at + i) & (RING_FRAMES - 1);
      left[i] = from[place];
      right[i] = also[place];
    }
    this.#at += length;
  }

  #resample(left: Float32Array, right: Float32Array, length: number, step: number): void {
    let at = this.#at;
    for (let i = 0; i < length; i++) {
      stereoInRing(this.#ring.left, this.#ring.right, RING_FRAMES - 1, at, left, right, i);
      at += step;
    }
    this.#at = at;
  }

  /** Out of silence in one block. */
  #fade(left: Float32Array, right: Float32Array, length: number): void {
    for (let i = 0; i < length; i++) {
      left[i] *= i / length;
      right[i] *= i / length;
    }
    this.#fadeIn = 0;
  }

  #notePeak(left: Float32Array, right: Float32Array, length: number): void {
    let peak = this.#ring.facts[PEAK];
    for (let i = 0; i < length; i++) peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
    this.#ring.facts[PEAK] = peak;
  }

  /** Watches what waits in the ring: it grows when the other clock is faster. */
  #follow(fill: number, length: number, nominal: number): void {
    const { facts } = this.#ring;
    this.#since += length;
    // At first the mean of all there was.
    const share = Math.max(length / (MEAN_SECONDS * this.#rate), length / this.#since);
    this.#mean += share * (fill - this.#mean);
    facts[WAITING] = this.#mean;
    if (this.#leaveOutExcess(fill, length, nominal)) return;
    if (this.#target === null) {
      if (this.#since >= SETTLE_SECONDS * this.#rate) this.#target = this.#mean;
      return;
    }
    const perSecond = this.#rate * nominal;
    const apart = this.#mean - this.#target;
    const seconds = this.#since / this.#rate - SETTLE_SECONDS;
    if (!this.#tracking) {
      // A straight line through the two ends is enough to say which clock is faster.
      if (seconds > 15) facts[DRIFT_PPM] = (1e6 * apart) / (perSecond * seconds);
      if (Math.abs(apart) < APART_SECONDS * perSecond) return;
      this.#tracking = true;
      this.#drift = apart / (perSecond * Math.max(seconds, 1));
    }
    const dt = length / this.#rate;
    this.#drift += ((OMEGA * OMEGA) / perSecond) * apart * dt;
    const correction = Math.max(-MOST_CORRECTION, Math.min(MOST_CORRECTION, this.#drift + ((2 * OMEGA) / perSecond) * apart));
    this.#ratio = 1 + correction;
    facts[DRIFT_PPM] = 1e6 * this.#drift;
    facts[EVENED] += length * correction;
  }

  /** After the reader stood still more waits than is needed: left out at once, and counted. */
  #leaveOutExcess(fill: number, length: number, nominal: number): boolean {
    this.#least = Math.min(this.#least, fill);
    this.#looked += length;
    if (this.#looked < this.#rate) return false;
    const excess = this.#least - this.#cushion(nominal);
    this.#least = Infinity;
    this.#looked = 0;
    if (excess < EXCESS_SECONDS * this.#rate) return false;
    this.#at += Math.floor(excess);
    this.#ring.facts[LOST] += Math.floor(excess / nominal);
    this.#ring.facts[GLITCHES]++;
    this.#fadeIn = 1;
    this.#settle();
    return true;
  }
}
