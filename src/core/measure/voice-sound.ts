import { BiquadFilter } from '../dsp/biquad';
import { gainToDb, powerToDb } from '../dsp/decibels';
import { createClipFinder, FULL_SCALE } from '../checks/clipping';
import { createHumFinder, type Hum } from '../checks/hum';
import { createNoiseFinder } from '../checks/noise-floor';
import { kWeighting } from './k-weighting';

/** What is known of how somebody sounds, from the last half minute. */
export interface VoiceReading {
  /** Gated loudness of what was said, LUFS; null before anything was. */
  speechLufs: number | null;
  /** Largest sample, dBFS; null for nothing but silence. */
  peakDb: number | null;
  /** Largest sample half a second and more from that one, dBFS: a knock or a cough is loud once, a voice that is too loud is so again. */
  peakAgainDb: number | null;
  /** The quietest steady second, dBFS; null where there was none. */
  noiseDb: number | null;
  /** Pauses hold not even noise: a program or a gate cuts them. */
  silentPauses: boolean;
  hum: Hum | null;
  /** Runs of samples at full scale. */
  clippedRuns: number;
}

const RATE = 48_000;
const STEP = RATE / 10;
/** So many steps of 100 ms are looked back over. */
const MOST_STEPS = 300;
/** Blocks of 400 ms, as BS.1770-5 gates them. */
const BLOCK_STEPS = 4;
const LUFS_OFFSET = -0.691;
const ABSOLUTE_GATE = -70;
const RELATIVE_GATE_LU = 10;
/** So much digital silence is a pause, in steps. */
const SILENT_STEPS = 10;
/** What is loud once lasts no longer than so many steps on either side. */
const MOMENT_STEPS = 5;
/** Speech stands this far above the room, or is not counted. */
const ABOVE_ROOM_DB = 10;

interface Step {
  power: number;
  weighted: number;
  peak: number;
  clipped: number;
}

/** Listens to one voice and says how it sounds: level, room, hum, clipping (ITU-R BS.1770-5 for its loudness). */
export class VoiceSound {
  readonly #filters = kWeighting(RATE).map((filter) => new BiquadFilter(filter));
  #steps: Step[] = [];
  #open: Step = { power: 0, weighted: 0, peak: 0, clipped: 0 };
  #inStep = 0;
  readonly #second = new Float32Array(RATE);
  #inSecond = 0;
  #hum = createHumFinder();
  #clips = createClipFinder();
  #at = 0;
  #clippedBefore = 0;

  /** @param samples mono, 48 kHz, of any length */
  push(samples: Float32Array): void {
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i];
      const size = Math.abs(x);
      this.#open.power += x * x;
      this.#open.weighted += this.#filters[1].next(this.#filters[0].next(x)) ** 2;
      if (size > this.#open.peak) this.#open.peak = size;
      if (size >= FULL_SCALE || this.#clips.open()) this.#clips.push(size, this.#at + i);
      this.#second[this.#inSecond++] = x;
      if (++this.#inStep === STEP) this.#endStep(this.#at + i);
      if (this.#inSecond === RATE) this.#endSecond();
    }
    this.#at += samples.length;
  }

  read(): VoiceReading {
    const noise = createNoiseFinder();
    const powers = this.#steps.map(({ power }) => power);
    for (let k = 10; k <= powers.length; k++) noise.push(powers.slice(k - 10, k));
    const { floorDb } = noise.result();
    const peaks = this.#steps.map((step) => step.peak);
    const peak = Math.max(0, ...peaks);
    const loudest = peaks.indexOf(peak);
    const again = Math.max(0, ...peaks.filter((_, k) => Math.abs(k - loudest) > MOMENT_STEPS));
    return {
      speechLufs: this.#speech(floorDb),
      peakDb: peak === 0 ? null : gainToDb(peak),
      peakAgainDb: again === 0 ? null : gainToDb(again),
      noiseDb: floorDb,
      silentPauses: this.#steps.filter((step) => step.peak === 0).length >= SILENT_STEPS,
      hum: this.#hum.result(floorDb),
      clippedRuns: this.#steps.reduce((sum, { clipped }) => sum + clipped, 0),
    };
  }

  #endStep(at: number): void {
    const { clippedRuns } = this.#clips.result(at);
    this.#steps.push({ power: this.#open.power / STEP, weighted: this.#open.weighted / STEP, peak: this.#open.peak, clipped: clippedRuns - this.#clippedBefore });
    this.#clippedBefore = clippedRuns;
    if (this.#steps.length > MOST_STEPS) this.#steps = this.#steps.slice(-MOST_STEPS);
    this.#open = { power: 0, weighted: 0, peak: 0, clipped: 0 };
    this.#inStep = 0;
  }

  #endSecond(): void {
    this.#inSecond = 0;
    const power = this.#second.reduce((sum, x) => sum + x * x, 0) / RATE;
    this.#hum.push(this.#second, power, null);
  }

  #speech(floorDb: number | null): number | null {
    const blocks: { lufs: number; power: number }[] = [];
    for (let k = BLOCK_STEPS; k <= this.#steps.length; k++) {
      const four = this.#steps.slice(k - BLOCK_STEPS, k);
      const weighted = four.reduce((sum, step) => sum + step.weighted, 0) / BLOCK_STEPS;
      const plain = four.reduce((sum, step) => sum + step.power, 0) / BLOCK_STEPS;
      const lufs = LUFS_OFFSET + powerToDb(weighted);
      if (lufs > ABSOLUTE_GATE && (floorDb === null || powerToDb(plain) > floorDb + ABOVE_ROOM_DB)) blocks.push({ lufs, power: weighted });
    }
    if (blocks.length === 0) return null;
    const meanOf = (some: typeof blocks) => LUFS_OFFSET + powerToDb(some.reduce((sum, { power }) => sum + power, 0) / some.length);
    const gate = meanOf(blocks) - RELATIVE_GATE_LU;
    return meanOf(blocks.filter(({ lufs }) => lufs > gate));
  }
}
