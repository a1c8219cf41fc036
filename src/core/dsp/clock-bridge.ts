import { ClockLead } from './clock-lead';
import { ClockWay } from './clock-way';
import { ringResampler } from './ring-resampler';
import { SINC_REACH } from './sinc';
import { DRIFT_PPM, EVENED, FLOWING, GLITCHES, LAST_WRITE_MS, LOST, noteTurn, PEAK, RATE, READER_LATE_MS, RING_FRAMES, STILL, WAITING, WRITER_LATE_MS, WRITTEN, type SoundRing } from './sound-ring';

/** What must be left in the ring in the worst moment, at first and at most, seconds. Every outage asks for more. */
export const FIRST_MARGIN_SECONDS = 0.03;
/** Where nobody answers what is heard: a stream may come later, and must not break. */
export const PATIENT_MARGIN_SECONDS = 0.09;
const MOST_MARGIN_SECONDS = 0.12;
const MORE_MARGIN_SECONDS = 0.03;
/** More than this above what is needed, all the time, is too much to be evened out: the reader had stood still. */
const EXCESS_SECONDS = 0.3;
/** A connection is made while much else begins: what piles up then is left out at once. */
const BEGINNING_SECONDS = 6;
const EXCESS_AT_FIRST_SECONDS = 0.02;
/** How far the writer is ahead is looked at once a second. More than this from one second to the next is somebody who stood still, and no clock. */
const STEP_SECONDS = 0.003;
/** More delay than is needed is taken back, by the more the more there is, and at most by a twentieth of a semitone; less than the second figure is left. */
const CENTRE_PPM = { least: 300, most: 3000, perSecond: 25_000 };
const OFF_CENTRE_SECONDS = 0.08;
const CENTRED_SECONDS = 0.004;
const LOW_SECONDS = 0.02;

/**
 * Reads a ring whose writer has another clock. While both clocks agree samples pass bit by bit; as soon as they are seen to run
 * apart the sound is resampled by as little as that takes (windowed sinc, over 130 dB), so that none is ever lost. Another
 * nominal rate is resampled from the beginning. When nothing comes the reader gives silence and says from where to where.
 */
export class ClockBridge {
  readonly #ring: SoundRing;
  readonly #resampler = ringResampler();
  readonly #rate: number;
  /** All frames ever written, and the reader's place among them. */
  #written = 0;
  #last: number;
  #at = 0;
  #flowing = false;
  #everFlowed = false;
  #largestPiece = 0;
  #margin: number;
  /** Of the second that runs. */
  #sum = 0;
  #least = Infinity;
  #looked = 0;
  readonly #lead = new ClockLead();
  /** How far the writer was ahead a second before, seconds; null where that is not known. */
  #before: number | null = null;
  readonly #way = new ClockWay();
  /** Since sound began to flow for the first time. */
  #sinceStart = 0;
  /** How much faster than the other clock is read to be back in the middle, as a share. */
  #centring = 0;
  #ratio = 1;
  #fadeIn = 0;

  /**
   * @param sampleRate the reader's, Hz
   * @param margin what is left in the ring in the worst moment, at first, seconds
   */
  constructor(ring: SoundRing, sampleRate: number, margin = FIRST_MARGIN_SECONDS) {
    this.#margin = margin;
    this.#ring = ring;
    this.#rate = sampleRate;
    this.#last = Atomics.load(ring.counters, WRITTEN);
    ring.facts[DRIFT_PPM] = NaN;
    ring.facts[FLOWING] = 0;
  }

  /**
   * The next block. False, and silence, where there is no sound.
   * @param clock the reader's own clock at the block's beginning, frames
   * @param nowMs the time of day, `Date.now()`
   */
  read(left: Float32Array, right: Float32Array, length: number, clock: number, nowMs: number): boolean {
    const nominal = this.#nominal();
    this.#look(nominal);
    this.#lead.didRead(length / this.#rate, nowMs);
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
    this.#follow(fill, length, nominal, clock + length);
    return true;
  }

  #nominal(): number {
    const rate = this.#ring.counters[RATE];
    return rate > 0 ? rate / this.#rate : 1;
  }

  #look(nominal: number): void {
    const now = Atomics.load(this.#ring.counters, WRITTEN);
    const piece = (now - this.#last) | 0;
    this.#last = now;
    this.#written += piece;
    if (piece > 0) this.#lead.wrote(piece / (this.#rate * nominal), this.#ring.facts[LAST_WRITE_MS]);
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
    noteTurn(this.#ring, clock);
    this.#settle();
    return true;
  }

  #stop(clock: number): void {
    const { facts } = this.#ring;
    this.#flowing = false;
    facts[FLOWING] = 0;
    facts[GLITCHES]++;
    noteTurn(this.#ring, clock);
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
    this.#sum = this.#looked = 0;
    this.#least = Infinity;
    this.#takeLead();
    this.#before = null;
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
    this.#at = this.#resampler.read(this.#ring.left, this.#ring.right, this.#at, step, left, right, length);
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
  #follow(fill: number, length: number, nominal: number, clock: number): void {
    this.#sum += fill * length;
    this.#least = Math.min(this.#least, fill);
    this.#looked += length;
    this.#ring.facts[EVENED] += length * (this.#ratio - 1);
    if (this.#looked >= this.#rate) this.#judgeSecond(nominal, clock);
  }

  #judgeSecond(nominal: number, clock: number): void {
    const { facts } = this.#ring;
    const mean = this.#sum / this.#looked;
    const excess = this.#least - this.#cushion(nominal) + this.#largestPiece;
    const perSecond = this.#rate * nominal;
    facts[WAITING] = mean;
    this.#sum = this.#looked = 0;
    this.#least = Infinity;
    const most = this.#sinceStart++ < BEGINNING_SECONDS ? EXCESS_AT_FIRST_SECONDS : EXCESS_SECONDS;
    if (excess > most * perSecond) return this.#leaveOut(excess, nominal, clock);
    const lead = this.#takeLead();
    const gained = this.#before === null ? NaN : lead - this.#before;
    this.#before = Number.isNaN(lead) ? null : lead;
    if (Math.abs(gained - this.#way.drift) < STEP_SECONDS) this.#way.learn(gained);
    facts[DRIFT_PPM] = 1e6 * this.#way.known;
    this.#centre(excess, perSecond);
    this.#ratio = 1 + this.#way.drift + this.#centring;
    if (this.#ratio === 1 && nominal === 1) this.#land();
  }

  #takeLead(): number {
    return this.#lead.take(this.#ring.facts[WRITER_LATE_MS], this.#ring.facts[READER_LATE_MS]);
  }

  /** Back onto whole samples within the next second, so that they pass untouched again. */
  #land(): void {
    const off = Math.round(this.#at) - this.#at;
    if (Math.abs(off) < 1e-3) this.#at = Math.round(this.#at);
    else this.#ratio = 1 + off / this.#rate;
  }

  /** Too much delay, or too little, is made good over a minute or two. */
  #centre(excess: number, perSecond: number): void {
    const off = Math.abs(excess) / perSecond;
    const begins = excess > OFF_CENTRE_SECONDS * perSecond || excess < -LOW_SECONDS * perSecond;
    const goesOn = this.#centring !== 0 && off > CENTRED_SECONDS && Math.sign(excess) === Math.sign(this.#centring);
    const ppm = Math.min(CENTRE_PPM.most, CENTRE_PPM.least + CENTRE_PPM.perSecond * off);
    const still = Atomics.load(this.#ring.counters, STILL) === 1;
    this.#centring = !still && (begins || goesOn) ? Math.sign(excess) * ppm * 1e-6 : 0;
  }

  /** After the reader stood still for long more waits than can be evened out: left out at once, and counted. */
  #leaveOut(excess: number, nominal: number, clock: number): void {
    this.#at += Math.floor(excess);
    this.#ring.facts[LOST] += Math.floor(excess / nominal);
    this.#ring.facts[GLITCHES]++;
    noteTurn(this.#ring, clock);
    noteTurn(this.#ring, clock);
    this.#fadeIn = 1;
    this.#settle();
  }
}
