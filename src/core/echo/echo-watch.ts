import { createFft } from '../dsp/fft';
import { EchoLevel } from './echo-level';
import { WHITEN_HOP, WhitenPair } from './whiten-pair';

/** Samples a second the watch works at. */
export const WATCH_RATE = 16_000;
/** Samples it is given at once: half a second. */
export const WATCH_STEP = 8192;
const SIZE = 32_768;
/** Delays it looks at, samples: from a quarter of a second too early to a second late. */
const EARLIEST = -4096;
const LATEST = 16_384;
/** Somebody in the same room is heard sooner than anything that went out and came back, ms: what counts as an echo is later than this. */
export const LEAST_ECHO_MS = 20;
/** Quieter than this nothing was sent that could come back: −50 dBFS. */
const SENT_LEAST = 10 ** (-50 / 20);
/** The same echo again: within 3 ms. */
const SAME_MS = 3;
const SAME_LAG = (SAME_MS / 1000) * WATCH_RATE;
/** Voices of like pitch agree a period sooner and a period later as well; before the first of an echo there is nothing: samples to look at, and the share that may be there. */
const BEFORE = { from: 0.02 * WATCH_RATE, to: 0.002 * WATCH_RATE };
const ALONE = 0.6;
/** What stands out so far that no likeness of voices does may have more before it: a short word has its pitch all over. */
const PLAIN = { certainty: 20, alone: 0.8 };
/** As clear as that nothing is by chance; nor what is less clear and comes again so often. */
const SURE = 11;
const AGAIN = { certainty: 7, running: 3 };
/** Weaker than that nothing is heard, dB. */
const WEAKEST_DB = -52;
/** Of what a step adds to an echo that is always there, so much must be new in a step that counts. */
const FRESH = 0.2;
/** Two memories of what was found, s: quick after a jump, and patient with what is weak; how far each must stand out, and how often running. */
const MEMORIES = [
  { seconds: 2, clear: 7, running: 2 },
  { seconds: 8, clear: 6.5, running: 2 },
] as const;
/** An echo is over when this much was sent and nothing of it stood out, s. */
const OVER_SECONDS = 6;
/** Over which the level is measured, and the least. */
const LEVEL_SECONDS = 8;
const LEAST_LEVEL_SECONDS = 4;
/** Of the last few measurements the second loudest counts: one may be too loud by chance, and a jump that was not seen yet makes several too quiet. */
const LEVELS = 7;
const LEVEL_EVERY_SECONDS = 1.5;
const SEEN_LATE_SECONDS = 1;
const STEP_SECONDS = WATCH_STEP / WATCH_RATE;

/** What was sent, found again in what came in. */
export interface EchoFound {
  delayMs: number;
  /** Energy of what comes back against what was sent, as it arrives here, dB; null while not enough was heard. */
  levelDb: number | null;
  /** How far it stands out of chance; 7 and more is certain. */
  certainty: number;
}

/** What the watch knows now. */
export interface EchoReading {
  echo: EchoFound | null;
  /** Whether anything was sent lately that could have come back: without it nothing can be told. */
  told: boolean;
}

interface Memory {
  re: Float64Array;
  im: Float64Array;
  /** What both had in common a step ago. */
  before: Float64Array;
  lag: number;
  running: number;
  /** How far it stood out at best since it runs. */
  certainty: number;
}

/**
 * Finds out from ordinary speech whether what is sent to somebody comes back from them, how late and how loud: both signals
 * are whitened and correlated over a second and a quarter of delays (generalised cross-correlation, Knapp and Carter, 1976),
 * and what stands out at one delay again and again is an echo.
 */
export class EchoWatch {
  readonly #fft = createFft(SIZE);
  readonly #whiten = new WhitenPair(WATCH_RATE);
  /** Whitened: what was sent, from the earliest that may still come back to the newest; and the microphone behind by what may come too early. */
  readonly #sent = new Float64Array(LATEST + WATCH_STEP - EARLIEST);
  readonly #microphone = new Float64Array(WATCH_STEP - EARLIEST);
  readonly #re = new Float64Array(SIZE);
  readonly #im = new Float64Array(SIZE);
  readonly #memories: Memory[] = MEMORIES.map(() => ({ re: new Float64Array(SIZE / 2 + 1), im: new Float64Array(SIZE / 2 + 1), before: new Float64Array(SIZE), lag: NaN, running: 0, certainty: 0 }));
  readonly #levels = new EchoLevel(WATCH_RATE);
  readonly #sample = new Float64Array((LATEST - EARLIEST) / 4);
  /** As they came, for the level. */
  readonly #rawMicrophone = new Float32Array(LEVEL_SECONDS * WATCH_RATE);
  readonly #rawSent = new Float32Array(LEVEL_SECONDS * WATCH_RATE + LATEST);
  #sounding = 0;
  /** Since the echo is where it is, as far as that was heard. */
  #settledSeconds = 0;
  #sinceLevel = Infinity;
  #lastLevels: number[] = [];
  #sinceSeen = Infinity;
  #echo: EchoFound | null = null;
  #sure = false;
  #cameAgain = false;

  /**
   * The next half second of both, {@link WATCH_STEP} samples at 16 kHz.
   * @param microphone what came in
   * @param sent what was sent in the same time
   * @param leastMs what comes sooner did not go out and come back; later where a line's way there and back is known to take longer
   */
  step(microphone: Float32Array, sent: Float32Array, leastMs = LEAST_ECHO_MS): EchoReading {
    const sounds = rms(sent) > SENT_LEAST;
    this.#takeIn(microphone, sent, sounds);
    if (sounds) this.#sounding = (LATEST - EARLIEST) / WATCH_STEP + 1;
    // What was sent a moment ago is still coming back.
    const told = this.#sounding-- > 0;
    if (!told) return { echo: this.#announced(), told: false };
    this.#settledSeconds += STEP_SECONDS;
    this.#sinceLevel += STEP_SECONDS;
    this.#correlate();
    this.#judge((leastMs / 1000) * WATCH_RATE);
    return { echo: this.#announced(), told: true };
  }

  /** What may still be chance is not said: that needs to be clear, or to have a level that an echo can have. */
  #announced(): EchoFound | null {
    const echo = this.#echo;
    if (!echo) return null;
    this.#sure = echo.levelDb === null ? this.#sure || echo.certainty >= SURE || this.#cameAgain : echo.levelDb > WEAKEST_DB;
    return this.#sure ? echo : null;
  }

  #takeIn(microphone: Float32Array, sent: Float32Array, sounds: boolean): void {
    this.#sent.copyWithin(0, WATCH_STEP);
    this.#microphone.copyWithin(0, WATCH_STEP);
    const newMicrophone = this.#microphone.subarray(-WATCH_STEP);
    const newSent = this.#sent.subarray(-WATCH_STEP);
    for (let at = 0; at < WATCH_STEP; at += WHITEN_HOP) this.#whiten.push(microphone.subarray(at, at + WHITEN_HOP), sent.subarray(at, at + WHITEN_HOP), sounds, newMicrophone, newSent, at);
    this.#rawMicrophone.copyWithin(0, WATCH_STEP);
    this.#rawMicrophone.set(microphone, this.#rawMicrophone.length - WATCH_STEP);
    this.#rawSent.copyWithin(0, WATCH_STEP);
    this.#rawSent.set(sent, this.#rawSent.length - WATCH_STEP);
  }

  /** Adds what this step has in common to both memories. */
  #correlate(): void {
    const [re, im] = [this.#re, this.#im];
    re.fill(0);
    im.fill(0);
    re.set(this.#microphone.subarray(0, WATCH_STEP), LATEST);
    im.set(this.#sent);
    this.#fft.forward(re, im);
    const [quickKept, patientKept] = MEMORIES.map(({ seconds }) => Math.exp(-STEP_SECONDS / seconds));
    const [{ re: quickRe, im: quickIm }, { re: patientRe, im: patientIm }] = this.#memories;
    for (let k = 0; k <= SIZE / 2; k++) {
      const other = k === 0 ? 0 : SIZE - k;
      const [mRe, mIm] = [0.5 * (re[k] + re[other]), 0.5 * (im[k] - im[other])];
      const [sRe, sIm] = [0.5 * (im[k] + im[other]), 0.5 * (re[other] - re[k])];
      const [cRe, cIm] = [mRe * sRe + mIm * sIm, mIm * sRe - mRe * sIm];
      quickRe[k] = quickKept * quickRe[k] + cRe;
      quickIm[k] = quickKept * quickIm[k] + cIm;
      patientRe[k] = patientKept * patientRe[k] + cRe;
      patientIm[k] = patientKept * patientIm[k] + cIm;
      // Both correlations are real: one transform back for the two.
      re[k] = quickRe[k] - patientIm[k];
      im[k] = quickIm[k] + patientRe[k];
      re[other] = quickRe[k] + patientIm[k];
      im[other] = patientRe[k] - quickIm[k];
    }
    this.#fft.inverse(re, im);
  }

  #judge(leastLag: number): void {
    let found: { lag: number; certainty: number } | null = null;
    this.#cameAgain = false;
    [this.#re, this.#im].forEach((correlation, n) => {
      const { clear, running } = MEMORIES[n];
      const memory = this.#memories[n];
      const { lag, certainty, before } = this.#clearest(correlation);
      const again = Math.abs(lag - memory.lag) <= SAME_LAG;
      memory.lag = lag;
      // Of an echo that is known a jump leaves what was for a while.
      const alone = this.#echo !== null || before < (certainty > PLAIN.certainty ? PLAIN.alone : ALONE);
      // What agreed once by chance stays in memory; an echo agrees again.
      const place = (Math.round(lag) + SIZE) % SIZE;
      const kept = Math.exp(-STEP_SECONDS / MEMORIES[n].seconds);
      const fresh = (correlation[place] - kept * memory.before[place]) / correlation[place] > FRESH * (1 - kept);
      memory.before.set(correlation);
      memory.running = certainty >= clear && lag >= leastLag && alone ? (again ? memory.running : 0) + (fresh ? 1 : 0) : 0;
      memory.certainty = memory.running === 0 ? 0 : Math.max(again ? memory.certainty : 0, certainty);
      // The quick one knows first where it went after a jump.
      if (memory.running >= running && found === null) found = { lag, certainty: memory.certainty };
      if (memory.running >= AGAIN.running && memory.certainty >= AGAIN.certainty) this.#cameAgain = true;
    });
    this.#sinceSeen += STEP_SECONDS;
    if (found !== null) this.#see(found);
    else if (this.#sinceSeen > OVER_SECONDS) {
      this.#echo = null;
      this.#sure = false;
      this.#lastLevels = [];
    }
  }

  #see({ lag, certainty }: { lag: number; certainty: number }): void {
    const delayMs = (1000 * lag) / WATCH_RATE;
    // A jump is seen a second after it was.
    if (this.#echo === null || Math.abs(delayMs - this.#echo.delayMs) > SAME_MS) this.#settledSeconds = SEEN_LATE_SECONDS;
    this.#sinceSeen = 0;
    this.#echo = { delayMs, certainty, levelDb: this.#levelAt(lag) };
  }

  /** Not measured at every step: it costs more than to find the echo. */
  #levelAt(lag: number): number | null {
    const before = this.#echo?.levelDb ?? null;
    if (this.#sinceLevel < LEVEL_EVERY_SECONDS) return before;
    const seconds = Math.min(LEVEL_SECONDS, this.#settledSeconds);
    if (seconds < LEAST_LEVEL_SECONDS) return before;
    this.#sinceLevel = 0;
    const level = this.#level(lag, seconds);
    if (!Number.isFinite(level)) return before;
    this.#lastLevels = [...this.#lastLevels.slice(1 - LEVELS), level];
    return this.#lastLevels.toSorted((a, b) => b - a)[Math.min(1, this.#lastLevels.length - 1)];
  }

  #level(lag: number, seconds: number): number {
    const length = Math.round(seconds * WATCH_RATE);
    const sent = this.#rawSent.length - length - Math.round(lag);
    return this.#levels.measure(this.#rawMicrophone.subarray(this.#rawMicrophone.length - length), this.#rawSent.subarray(sent, sent + length));
  }

  /** The delay that stands out most, by how much, and what share of it stands before it. */
  #clearest(correlation: Float64Array): { lag: number; certainty: number; before: number } {
    const at = (lag: number): number => Math.abs(correlation[lag < 0 ? lag + SIZE : lag]);
    let [best, most] = [EARLIEST, -1];
    for (let lag = EARLIEST; lag < LATEST; lag++) {
      const value = at(lag);
      if (value > most) [best, most] = [lag, value];
    }
    const sample = this.#sample;
    for (let n = 0; n < sample.length; n++) sample[n] = at(EARLIEST + 4 * n);
    sample.sort();
    const typical = 1.48 * this.#sample[this.#sample.length >> 1];
    let before = 0;
    for (let lag = best - BEFORE.from; lag <= best - BEFORE.to; lag++) before = Math.max(before, at(lag));
    return { before: before / at(best), lag: best + between(at(best - 1), at(best), at(best + 1)), certainty: typical > 0 ? at(best) / typical : 0 };
  }
}

/** Where a parabola through three points has its top, −0.5 to 0.5. */
function between(before: number, top: number, after: number): number {
  const bend = before - 2 * top + after;
  return bend === 0 ? 0 : Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / bend));
}

function rms(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return Math.sqrt(sum / samples.length);
}
