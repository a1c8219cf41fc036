import { createFft } from '../dsp/fft';
import { createRealFft } from '../dsp/real-fft';
import { FILTER_BLOCK } from './bleed-filter';

const FRAME = 2 * FILTER_BLOCK;
const BINS = FILTER_BLOCK + 1;
/** Bands in which what is left is learned, some 190 Hz wide. */
const BAND_BINS = 4;
const BANDS = Math.ceil(BINS / BAND_BINS);
/** How the share follows what is seen: it settles where 63 % of what is seen lies above it. */
const [DOWN, UP] = [0.99, 1.006];
/** Where much less is left than was expected it is found out soon. */
const [FAR_BELOW, DOWN_FAST] = [0.1, 0.95];
/** So many times the share that is expected is taken away: what is left of an echo is not even. */
const OVER = 4;
const LEAST_GAIN = 0.03;
/** While what comes in is about as loud as the echo alone would be nobody speaks there: so much is taken down besides. Fully up to the first of these ratios, not from the second on. */
const NOBODY_SPEAKS = 0.08;
const [ALONE, NOT_ALONE] = [3, 7];
/** How fast it is believed that nobody speaks, a block; that somebody does is believed at once. */
const BELIEVE = 0.2;
const UP_BESIDE = 1.0003;
/** How the way's own gain is learned: it settles in the middle of what is seen. */
const [WAY_DOWN, WAY_UP] = [0.985, 1.015];
/** A way is not believed to be louder than measured by more than this, all in all and in any band: else whoever speaks for long would be learned as echo. */
const [MOST_OVER, MOST_OVER_IN_BAND] = [4, 16];
/** What a room still returns of a block one block later. */
const TAIL = 0.7;
const MEMORY = 0.7;
/** An echo is gone where in some moment of the last seconds in which something was sent less than this came in of it, power: weaker than any echo that is named. */
const GONE = 10 ** (-48 / 10);
/** A moment, blocks, and how many blocks in which something was sent make a stretch: two are looked at. */
const MOMENT = 8;
const SENT_STRETCH = 376;
/** It is there again where the filter takes away more than this of a moment, power. */
const BACK = 0.6;
/** How fast it is let go and taken up again, a block. */
const [LET_GO, TAKE_UP] = [0.02, 0.2];
/** The room is the quietest of the last two stretches of so many blocks, 1 s each (Martin, 2001, minimum statistics, much simplified). */
const STRETCH = 94;
/** Below this nothing was sent that could be left: −70 dBFS in a band. */
const SENT_LEAST = 1e-7 * FRAME;

/**
 * Takes down what a canceller leaves of an echo, band by band, where what was sent says that there must be some: coders, lost
 * packets and loudspeakers return more than a linear filter can know. It is one block later than what comes in.
 */
export class ResidualSuppressor {
  readonly #fft = createFft(FRAME);
  readonly #realFft = createRealFft(FRAME);
  readonly #window = Float64Array.from({ length: FRAME }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / FRAME));
  readonly #input = new Float64Array(FRAME);
  readonly #sent = new Float64Array(FRAME);
  readonly #out = new Float64Array(FRAME);
  readonly #re = new Float64Array(FRAME);
  readonly #im = new Float64Array(FRAME);
  readonly #near = new Float64Array(BINS);
  readonly #far = new Float64Array(BINS);
  readonly #microphone = new Float64Array(FRAME);
  readonly #time = new Float64Array(FRAME);
  readonly #binsRe = new Float64Array(BINS);
  readonly #binsIm = new Float64Array(BINS);
  readonly #share = new Float64Array(BANDS);
  readonly #way = new Float64Array(BANDS);
  readonly #sentPower = new Float64Array(BINS);
  /** The quietest of this stretch and of the one before, in each band. */
  readonly #quietest = new Float64Array(BANDS);
  readonly #quietestBefore = new Float64Array(BANDS);
  #inStretch = 0;
  /** The least that came in of what was sent, in this stretch and in the one before. */
  #least = Infinity;
  #leastBefore = Infinity;
  #inSentStretch = 0;
  #moment = 0;
  #momentCame = 0;
  #momentKept = 0;
  #momentSent = 0;
  /** How far an echo that is gone is let go, 0 to 1: what came in is then given as it is. */
  #gone = 0;
  #speaks = 1;
  /** Gain of the way as it was measured, power. */
  #measured = 0;
  #leftAtFirst = 0;
  readonly #gain = new Float64Array(BINS);

  /**
   * @param gain of the way, as it was measured: power
   * @param share of what was sent that is left at first: power
   */
  begin(gain: number, share: number): void {
    this.#measured = gain;
    this.#leftAtFirst = share;
    this.#expectIt();
    this.#microphone.fill(0);
    this.#quietest.fill(Infinity);
    this.#quietestBefore.fill(0);
    this.#inStretch = this.#inSentStretch = this.#moment = this.#momentCame = this.#momentKept = this.#momentSent = this.#gone = 0;
    for (const memory of [this.#input, this.#sent, this.#out, this.#near, this.#far]) memory.fill(0);
  }

  /**
   * One block.
   * @param input what the canceller gave
   * @param microphone what it was given
   * @param sent what was sent, as late as its echo
   */
  process(input: Float32Array, microphone: Float32Array, sent: Float32Array, out: Float32Array): void {
    const [re, im] = [this.#re, this.#im];
    this.#input.copyWithin(0, FILTER_BLOCK);
    this.#input.set(input, FILTER_BLOCK);
    this.#sent.copyWithin(0, FILTER_BLOCK);
    this.#sent.set(sent, FILTER_BLOCK);
    this.#microphone.copyWithin(0, FILTER_BLOCK);
    this.#microphone.set(microphone, FILTER_BLOCK);
    const [binsRe, binsIm] = [this.#binsRe, this.#binsIm];
    for (let i = 0; i < FRAME; i++) this.#time[i] = this.#window[i] * this.#sent[i];
    this.#realFft.forward(this.#time, binsRe, binsIm);
    for (let k = 0; k < BINS; k++) this.#sentPower[k] = binsRe[k] * binsRe[k] + binsIm[k] * binsIm[k];
    for (let i = 0; i < FRAME; i++) {
      re[i] = this.#window[i] * this.#input[i];
      im[i] = this.#window[i] * this.#microphone[i];
    }
    this.#fft.forward(re, im);
    this.#judge();
    for (let k = 0; k < BINS; k++) {
      const other = (FRAME - k) % FRAME;
      const whole = (1 - this.#gone) * 0.5 * this.#gain[k];
      const plain = this.#gone * 0.5;
      binsRe[k] = whole * (re[k] + re[other]) + plain * (im[k] + im[other]);
      binsIm[k] = whole * (im[k] - im[other]) + plain * (re[other] - re[k]);
    }
    this.#realFft.inverse(binsRe, binsIm, this.#time);
    this.#out.copyWithin(0, FILTER_BLOCK);
    this.#out.fill(0, FILTER_BLOCK);
    for (let i = 0; i < FRAME; i++) this.#out[i] += this.#window[i] * this.#time[i];
    out.set(this.#out.subarray(0, FILTER_BLOCK));
  }

  #judge(): void {
    const [re, im] = [this.#re, this.#im];
    let [came, kept, expected, allSent] = [0, 0, 0, 0];
    for (let band = 0; band < BANDS; band++) {
      const from = band * BAND_BINS;
      const to = Math.min(BINS, from + BAND_BINS);
      let [near, far, all, smooth] = [0, 0, 0, 0];
      for (let k = from; k < to; k++) {
        const other = (FRAME - k) % FRAME;
        const eRe = 0.5 * (re[k] + re[other]);
        const eIm = 0.5 * (im[k] - im[other]);
        const mRe = 0.5 * (im[k] + im[other]);
        const mIm = 0.5 * (re[other] - re[k]);
        const power = eRe * eRe + eIm * eIm;
        this.#near[k] = MEMORY * this.#near[k] + (1 - MEMORY) * power;
        all += mRe * mRe + mIm * mIm;
        this.#far[k] = Math.max(this.#sentPower[k], TAIL * this.#far[k]);
        this.#gain[k] = power;
        near += power;
        smooth += this.#near[k];
        far += this.#far[k];
      }
      if (far > SENT_LEAST * (to - from)) {
        // What somebody says is no echo: while they speak hardly anything is learned from it.
        const up = this.#speaks < 0.5;
        this.#share[band] *= near > this.#share[band] * far ? (up ? UP : UP_BESIDE) : near < FAR_BELOW * this.#share[band] * far ? DOWN_FAST : DOWN;
        this.#way[band] *= all > this.#way[band] * far ? (up ? WAY_UP : UP_BESIDE) : WAY_DOWN;
      }
      this.#way[band] = Math.min(this.#way[band], MOST_OVER_IN_BAND * this.#measured);
      this.#share[band] = Math.min(this.#share[band], MOST_OVER * this.#measured);
      if (smooth < this.#quietest[band]) this.#quietest[band] = smooth;
      came += all;
      kept += near;
      allSent += far;
      expected += this.#way[band] * far;
      for (let k = from; k < to; k++) {
        const seen = 0.5 * this.#gain[k] + 0.5 * this.#near[k];
        const left = OVER * this.#share[band] * (far / (to - from));
        this.#gain[k] = seen <= 0 ? 1 : Math.max(LEAST_GAIN, 1 - left / seen);
      }
    }
    this.#lookForIt(came, kept, allSent);
    const alone = Math.min(expected, MOST_OVER * this.#measured * allSent);
    const ratio = alone > 0 ? came / alone : Infinity;
    const speaks = Math.max(0, Math.min(1, (ratio - ALONE) / (NOT_ALONE - ALONE)));
    this.#speaks = speaks > this.#speaks ? speaks : this.#speaks + BELIEVE * (speaks - this.#speaks);
    const besides = this.#speaks + (1 - this.#speaks) * NOBODY_SPEAKS;
    for (let k = 0; k < BINS; k++) this.#gain[k] = Math.max(this.#gain[k] * besides, this.#asLoudAsTheRoom(k));
    if (++this.#inStretch < STRETCH) return;
    this.#inStretch = 0;
    this.#quietestBefore.set(this.#quietest);
    this.#quietest.fill(Infinity);
  }

  /** An echo that is no longer there is no longer taken away: whoever speaks would only lose by it. */
  #lookForIt(came: number, kept: number, sent: number): void {
    if (sent > BINS * SENT_LEAST) {
      this.#momentCame += came;
      this.#momentKept += kept;
      this.#momentSent += sent;
      if (++this.#moment === MOMENT) {
        this.#least = Math.min(this.#least, this.#momentCame / this.#momentSent);
        if (this.#gone > 0 && this.#momentKept < BACK * this.#momentCame) this.#expectIt();
        this.#moment = this.#momentCame = this.#momentKept = this.#momentSent = 0;
      }
      if (++this.#inSentStretch >= SENT_STRETCH) {
        this.#leastBefore = this.#least;
        this.#least = Infinity;
        this.#inSentStretch = 0;
      }
    }
    const gone = Math.min(this.#least, this.#leastBefore) < GONE;
    this.#gone = gone ? Math.min(1, this.#gone + LET_GO) : Math.max(0, this.#gone - TAKE_UP);
  }

  /** As at the beginning: it is there, and how much of it will be left is not known. */
  #expectIt(): void {
    this.#least = this.#leastBefore = Infinity;
    this.#way.fill(this.#measured);
    this.#share.fill(this.#leftAtFirst);
  }

  /** The gain below which a bin would be quieter than the room always is: that noise is no echo, and would be missed. */
  #asLoudAsTheRoom(k: number): number {
    const band = Math.floor(k / BAND_BINS);
    const room = Math.min(this.#quietest[band], this.#quietestBefore[band]) / BAND_BINS;
    return room >= this.#near[k] ? 1 : Math.sqrt(room / this.#near[k]);
  }
}
