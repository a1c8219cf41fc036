import { createRealFft } from '../dsp/real-fft';
import { FILTER_BLOCK } from './bleed-filter';

const FRAME = 2 * FILTER_BLOCK;
const BINS = FILTER_BLOCK + 1;
/** Bands in which it is learned how much is left, some 190 Hz wide. */
const BAND_BINS = 4;
const BANDS = Math.ceil(BINS / BAND_BINS);
/** Where only the other speaks, less is left than this rank of all moments shows: they speak alone for most of what they say. */
const RANK = 0.3;
/** More than this is never taken for what a filter leaves, power: then it is somebody else's voice. */
const MOST_LEFT = 0.1;
/** What is left is not even: so many times what is expected is taken down. */
const OVER = 3;
const LEAST_GAIN = 0.05;
/** The rank of a band's power that is its noise. */
const NOISE_RANK = 0.1;
/** Too little was taken out to leave anything: −80 dBFS in a band. */
const LEAST_TAKEN = 1e-8 * FRAME;
/** How a bin's power is smoothed from block to block. */
const MEMORY = 0.7;
/** So many moments of a band are needed to say anything: a second. */
const LEAST_MOMENTS = 94;

/**
 * Takes down what a linear filter had to leave of other people's voices: coders and lost packets return what no filter knows.
 * Where much was taken out of a band something is left there, in a proportion that the quieter moments show; nothing is
 * taken below the track's own noise, and hardly anything of a voice that is louder than what is left. Comes a block later. On air
 * (`ResidualSuppressor`) that proportion has to be guessed and followed, and costs the voice more; of a take that lies there
 * the whole stretch is known.
 */
export class Residue {
  readonly #fft = createRealFft(FRAME);
  readonly #window = Float64Array.from({ length: FRAME }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / FRAME));
  readonly #left = new Float64Array(FRAME);
  readonly #taken = new Float64Array(FRAME);
  readonly #time = new Float64Array(FRAME);
  readonly #re = new Float64Array(BINS);
  readonly #im = new Float64Array(BINS);
  readonly #smooth = new Float64Array(BINS);
  readonly #overlap = new Float64Array(FILTER_BLOCK);

  /**
   * Whole blocks of a stretch that is long enough to learn from.
   * @param before the track as it came
   * @param after what the filter made of it
   * @returns as many samples, which begin a block before these
   */
  process(before: Float32Array, after: Float32Array): Float32Array<ArrayBuffer> {
    const blocks = after.length / FILTER_BLOCK;
    const [left, taken] = [new Float32Array(blocks * BANDS), new Float32Array(blocks * BANDS)];
    const [re, im] = [new Float32Array(blocks * BINS), new Float32Array(blocks * BINS)];
    for (let b = 0; b < blocks; b++) {
      this.#take(before, after, b);
      this.#transform(this.#taken);
      this.#sumBands(taken.subarray(b * BANDS, (b + 1) * BANDS));
      this.#transform(this.#left);
      this.#sumBands(left.subarray(b * BANDS, (b + 1) * BANDS));
      re.set(this.#re, b * BINS);
      im.set(this.#im, b * BINS);
    }
    const [shares, noises] = [sharesLeft(left, taken), noiseOf(left)];
    const out = new Float32Array(after.length);
    for (let b = 0; b < blocks; b++) {
      for (let k = 0; k < BINS; k++) {
        const band = Math.floor(k / BAND_BINS);
        const power = re[b * BINS + k] ** 2 + im[b * BINS + k] ** 2;
        this.#smooth[k] = MEMORY * this.#smooth[k] + (1 - MEMORY) * power;
        const seen = 0.5 * (power + this.#smooth[k]);
        const residue = OVER * shares[band] * taken[b * BANDS + band];
        const floor = Math.max(LEAST_GAIN, Math.sqrt(Math.min(1, noises[band] / (this.#smooth[k] + 1e-30))));
        const gain = residue === 0 ? 1 : Math.max(floor, 1 - residue / (seen + 1e-30));
        this.#re[k] = gain * re[b * BINS + k];
        this.#im[k] = gain * im[b * BINS + k];
      }
      this.#fft.inverse(this.#re, this.#im, this.#time);
      for (let i = 0; i < FILTER_BLOCK; i++) {
        out[b * FILTER_BLOCK + i] = this.#overlap[i] + this.#window[i] * this.#time[i];
        this.#overlap[i] = this.#window[FILTER_BLOCK + i] * this.#time[FILTER_BLOCK + i];
      }
    }
    return out;
  }

  #take(before: Float32Array, after: Float32Array, b: number): void {
    this.#left.copyWithin(0, FILTER_BLOCK);
    this.#taken.copyWithin(0, FILTER_BLOCK);
    for (let i = 0; i < FILTER_BLOCK; i++) {
      const at = b * FILTER_BLOCK + i;
      this.#left[FILTER_BLOCK + i] = after[at];
      this.#taken[FILTER_BLOCK + i] = before[at] - after[at];
    }
  }

  #transform(frame: Float64Array): void {
    for (let i = 0; i < FRAME; i++) this.#time[i] = this.#window[i] * frame[i];
    this.#fft.forward(this.#time, this.#re, this.#im);
  }

  /** Mean power of a bin in each band. */
  #sumBands(into: Float32Array): void {
    for (let band = 0; band < BANDS; band++) {
      const [from, to] = [band * BAND_BINS, Math.min(BINS, (band + 1) * BAND_BINS)];
      let sum = 0;
      for (let k = from; k < to; k++) sum += this.#re[k] ** 2 + this.#im[k] ** 2;
      into[band] = sum / (to - from);
    }
  }
}

/** How much of what was taken out is left in each band, power: 0 where too little was taken to say. */
function sharesLeft(left: Float32Array, taken: Float32Array): Float64Array {
  return eachBand((band) => {
    const ratios: number[] = [];
    for (let at = band; at < taken.length; at += BANDS) if (taken[at] > LEAST_TAKEN) ratios.push(left[at] / taken[at]);
    return ratios.length < LEAST_MOMENTS ? 0 : Math.min(MOST_LEFT, ranked(ratios, RANK));
  });
}

function noiseOf(left: Float32Array): Float64Array {
  return eachBand((band) => {
    const powers: number[] = [];
    for (let at = band; at < left.length; at += BANDS) powers.push(left[at]);
    return ranked(powers, NOISE_RANK);
  });
}

const eachBand = (value: (band: number) => number): Float64Array => Float64Array.from({ length: BANDS }, (_, band) => value(band));

function ranked(values: number[], rank: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.floor(rank * (sorted.length - 1))];
}
