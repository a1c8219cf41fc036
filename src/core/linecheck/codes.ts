import { createFft } from '../dsp/fft';
import { dbToGain } from '../dsp/decibels';
import { createRandom, seedFor } from '../random';
import { speechLevelDb } from '../measure/speech-spectrum';

/** Samples at 48 kHz after which a probe begins again, and at 16 kHz, where probes are looked for: 1.024 s. */
export const PERIOD = 49_152;
export const PERIOD_16K = PERIOD / 3;
/** Width of a bin, Hz. */
export const BIN_HZ = 48_000 / PERIOD;

const LOWEST_HZ = 300;
const HIGHEST_HZ = 6000;
const LOWEST_BIN = Math.ceil(LOWEST_HZ / BIN_HZ);
const HIGHEST_BIN = Math.floor(HIGHEST_HZ / BIN_HZ);

/** Passes of clipping and filtering that make a probe's peaks lower. */
const CLIPPING_PASSES = 12;
/** Where a pass clips, times the root of the mean square. */
const CLIP_AT = 1.8;

/** One probe: lines of its own between 300 and 6000 Hz, spread over the whole band. */
export interface Code {
  /** Bins of {@link BIN_HZ}, rising. */
  bins: Uint16Array;
  /** Spectrum at those bins for a probe of one period whose mean square is one. */
  re: Float64Array;
  im: Float64Array;
}

/** Probes that can be told apart, and the bins that none of them has: what sounds there is noise. */
export interface Codes {
  codes: Code[];
  empty: Uint16Array;
}

/**
 * Stratified random combs: of each group of neighbouring bins a random permutation gives every code one and leaves one
 * empty. Each code so has lines all over the band, and none has a period shorter than the whole.
 * @param count how many are to be told apart
 * @throws {RangeError} when there are too many for the band
 */
export function makeCodes(count: number, seed: number): Codes {
  const group = count + 1;
  const groups = Math.floor((HIGHEST_BIN - LOWEST_BIN) / group);
  if (!Number.isInteger(count) || count < 1 || groups < 50) throw new RangeError(`The band has room for 1 to 110 probes, received ${count}.`);
  const random = createRandom(seedFor(seed, 'bins'));
  const bins = Array.from({ length: count }, () => new Uint16Array(groups));
  const empty = new Uint16Array(groups);
  const order = Array.from({ length: group }, (_, k) => k);
  for (let g = 0; g < groups; g++) {
    for (let k = group - 1; k > 0; k--) {
      const other = random.index(k + 1);
      [order[k], order[other]] = [order[other], order[k]];
    }
    const first = LOWEST_BIN + g * group;
    for (let k = 0; k < count; k++) bins[k][g] = first + order[k];
    empty[g] = first + order[count];
  }
  return { codes: bins.map((own, k) => shapeCode(own, createRandom(seedFor(seed, `phases ${k}`)))), empty };
}

/** Random phases under half the slope of speech, then clipped again and again for a lower peak. */
function shapeCode(bins: Uint16Array, random: ReturnType<typeof createRandom>): Code {
  const fft = createFft(PERIOD_16K);
  const re = new Float64Array(PERIOD_16K);
  const im = new Float64Array(PERIOD_16K);
  const size = Float64Array.from(bins, (bin) => dbToGain(speechLevelDb(bin * BIN_HZ) / 2));
  const phase = Float64Array.from(bins, () => 2 * Math.PI * random.next());
  // A line of amplitude a has a mean square of a²/2; its bin then holds a · period / 2.
  const scale = PERIOD_16K / 2 / Math.sqrt(size.reduce((sum, a) => sum + (a * a) / 2, 0));
  for (let pass = 0; pass < CLIPPING_PASSES; pass++) {
    re.fill(0);
    im.fill(0);
    for (let k = 0; k < bins.length; k++) writeLine(re, im, bins[k], scale * size[k], phase[k]);
    fft.inverse(re, im);
    for (let i = 0; i < re.length; i++) re[i] = Math.max(-CLIP_AT, Math.min(CLIP_AT, re[i]));
    im.fill(0);
    fft.forward(re, im);
    for (let k = 0; k < bins.length; k++) phase[k] = Math.atan2(im[bins[k]], re[bins[k]]);
  }
  return {
    bins,
    re: Float64Array.from(bins, (_, k) => scale * size[k] * Math.cos(phase[k])),
    im: Float64Array.from(bins, (_, k) => scale * size[k] * Math.sin(phase[k])),
  };
}

function writeLine(re: Float64Array, im: Float64Array, bin: number, size: number, phase: number): void {
  re[bin] = re[re.length - bin] = size * Math.cos(phase);
  im[bin] = size * Math.sin(phase);
  im[im.length - bin] = -im[bin];
}

/**
 * One period of a probe at 48 kHz.
 * @param levelDb root of its mean square, dBFS
 */
export function probeOf(code: Code, levelDb: number): Float32Array<ArrayBuffer> {
  // Three samples for one: the same lines in a spectrum three times as long, which is made of three transforms.
  const fft = createFft(PERIOD_16K);
  const out = new Float32Array(PERIOD);
  const gain = dbToGain(levelDb);
  const re = new Float64Array(PERIOD_16K);
  const im = new Float64Array(PERIOD_16K);
  for (let offset = 0; offset < 3; offset++) {
    re.fill(0);
    im.fill(0);
    code.bins.forEach((bin, k) => {
      const turn = (2 * Math.PI * bin * offset) / PERIOD;
      const size = gain * Math.hypot(code.re[k], code.im[k]);
      writeLine(re, im, bin, size, Math.atan2(code.im[k], code.re[k]) + turn);
    });
    fft.inverse(re, im);
    for (let i = 0; i < PERIOD_16K; i++) out[3 * i + offset] = re[i];
  }
  return out;
}
