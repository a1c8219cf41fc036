import { dbToGain, powerToDb } from '../dsp/decibels';
import { PeakLimiter } from '../dsp/true-peak-limiter';
import { KWeightedEnergy } from '../measure/k-weighting';

/** No peak on the air is above this, dBTP. */
export const AIR_CEILING_DBTP = -1;
const RATE = 48_000;
/** Loudness is looked at in blocks of this many seconds, over the last so many blocks that hold speech or music. */
const BLOCK_SECONDS = 0.4;
const WINDOW_BLOCKS = 30;
/** Enough to begin with. */
const FEWEST_BLOCKS = 5;
/** Quieter than this is nothing anybody says, LUFS; nor what is so much below the rest, LU (BS.1770-5 has 10). */
const GATE_LUFS = -50;
const RELATIVE_GATE_LU = 10;
/** The gain goes no faster, dB a second, and no further, dB. */
const DB_A_SECOND = 0.7;
const MOST_DB = 12;
/** The offset of BS.1770-5, annex 1. */
const OFFSET = -0.691;

/** What became of the loudness. */
export interface AirLevelReading {
  /** Loudness of what comes in and of what goes out, over what was heard of the last quarter of a minute, LUFS; null in silence. */
  inLufs: number | null;
  outLufs: number | null;
  /** The leveller's gain now, and the most the limiter took since the last reading, dB. */
  gainDb: number;
  takenDb: number;
}

/** Power of sound as it is heard: K-weighted, gated blocks of the last while (ITU-R BS.1770-5). */
class RecentLoudness {
  readonly #weighted = new KWeightedEnergy(RATE, 2);
  readonly #blocks: number[] = [];
  #power = 0;
  #count = 0;

  /** Says whether a block was finished with it. */
  push(channels: readonly Float32Array[], length: number): boolean {
    for (let channel = 0; channel < channels.length; channel++) this.#power += this.#weighted.next(channels[channel], channel, 0, length);
    this.#count += length;
    if (this.#count < BLOCK_SECONDS * RATE) return false;
    const power = this.#power / this.#count;
    this.#power = this.#count = 0;
    if (OFFSET + powerToDb(power) > GATE_LUFS) {
      this.#blocks.push(power);
      if (this.#blocks.length > WINDOW_BLOCKS) this.#blocks.shift();
    }
    return true;
  }

  /** LUFS; null while too little was heard. */
  lufs(): number | null {
    if (this.#blocks.length < FEWEST_BLOCKS) return null;
    const gate = mean(this.#blocks) * 10 ** (-RELATIVE_GATE_LU / 10);
    return OFFSET + powerToDb(mean(this.#blocks.filter((power) => power > gate)));
  }
}

const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

/**
 * What a stereo mix goes through on its way to the air, and nowhere else: a gain that goes slowly to the wanted loudness, where
 * that is wished, and a true-peak limiter. Silence and noise move nothing. What comes out is later by the limiter's look-ahead.
 */
export class AirLevel {
  readonly #targetLufs: number | null;
  readonly #limiter: PeakLimiter;
  readonly #in = new RecentLoudness();
  readonly #out = new RecentLoudness();
  #gainDb = 0;
  #goalDb = 0;

  /** @param targetLufs null leaves the loudness as it is */
  constructor(targetLufs: number | null, maxBlock: number) {
    this.#targetLufs = targetLufs;
    this.#limiter = new PeakLimiter(2, AIR_CEILING_DBTP, maxBlock);
  }

  /** Left and right, in place. */
  process(channels: readonly [Float32Array, Float32Array], length: number): void {
    if (this.#in.push(channels, length)) this.#goalDb = this.#wantedDb();
    const step = (DB_A_SECOND * length) / RATE;
    const from = dbToGain(this.#gainDb);
    this.#gainDb += Math.max(-step, Math.min(step, this.#goalDb - this.#gainDb));
    const slope = (dbToGain(this.#gainDb) - from) / length;
    for (const samples of channels) for (let i = 0; i < length; i++) samples[i] *= from + slope * (i + 1);
    this.#limiter.process(channels, channels, length);
    this.#out.push(channels, length);
  }

  read(): AirLevelReading {
    return { inLufs: this.#in.lufs(), outLufs: this.#out.lufs(), gainDb: this.#gainDb, takenDb: -20 * Math.log10(this.#limiter.takeLeast()) };
  }

  #wantedDb(): number {
    const lufs = this.#in.lufs();
    if (this.#targetLufs === null || lufs === null) return this.#goalDb;
    return Math.max(-MOST_DB, Math.min(MOST_DB, this.#targetLufs - lufs));
  }
}
