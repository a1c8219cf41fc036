import { createFft } from '../dsp/fft';

/** Samples a second the guard works at. */
export const GUARD_RATE = 8000;
/** What is looked at of the shared sound, and twice as much of the call: 1.02 s and 2.05 s. */
export const GUARD_WINDOW = 8192;

interface Sighting {
  lag: number;
  alone: number;
  look: number;
}

/** The call, found again in what is shared. */
export interface LoopFound {
  /** How much later it comes back, ms. */
  delayMs: number;
  /** How much of it comes back, dB. */
  gainDb: number;
}

/** Sooner than this nothing can have gone out and come back; later than that it is not looked for. */
const SHORTEST_LAG = Math.round(0.003 * GUARD_RATE);
const LONGEST_LAG = Math.round(0.9 * GUARD_RATE);
/** Both are faded at their ends: the edges of two windows would correlate with each other. */
const TAPER = 512;
/** How far the correlation must stand out of itself: unrelated sound reaches 5. */
const CLEAR = 7;
/** A loop stands alone, so many times above what else there is; two voices of like pitch agree again a period later. */
const ALONE = 1.5;
const BESIDE = 12;
/** Seen at the same delay, within half a millisecond. */
const SAME_LAG = 4;
/** So much alone, it is believed when it was seen twice: music and a voice that hold one note reach 1.9, a loop mostly 8. */
const QUITE_ALONE = 2.5;
/** Seen so often it is believed as well, where the first and the last look had no sample in common; so many looks are remembered. */
const OFTEN = 4;
const LOOKS_IN_WINDOW = 4;
const REMEMBERED = 12;
/** Below this there is nothing to compare, −62 dBFS. */
const SILENCE = 10 ** (-62 / 20);
/** The band in which both are compared, Hz. */
const [LOWEST_HZ, HIGHEST_HZ] = [250, 3400];

/**
 * Finds out whether shared sound contains the call, by the generalised cross-correlation with phase
 * transform (Knapp and Carter, 1976) of the share with everything else on the desk. Only what comes
 * back later counts: the call that follows the share is an echo elsewhere, not a loop.
 */
export class LoopGuard {
  readonly #fft = createFft(2 * GUARD_WINDOW);
  readonly #share = { re: new Float64Array(2 * GUARD_WINDOW), im: new Float64Array(2 * GUARD_WINDOW) };
  readonly #call = { re: new Float64Array(2 * GUARD_WINDOW), im: new Float64Array(2 * GUARD_WINDOW) };
  /** What the last looks saw. */
  readonly #sightings: Sighting[] = [];
  #look = 0;

  /**
   * Call it about four times a second.
   * @param share the last {@link GUARD_WINDOW} samples of what is shared
   * @param call the last 2 × {@link GUARD_WINDOW} samples of everything else, ending with the same one
   * @returns the loop, when it was there before as well
   */
  check(share: Float32Array, call: Float32Array): LoopFound | null {
    const seen = rms(share) < SILENCE || rms(call) < SILENCE ? null : this.#clearest(share, call);
    this.#look++;
    if (this.#sightings.length > 0 && this.#look - this.#sightings[0].look > REMEMBERED) this.#sightings.shift();
    if (!seen) return null;
    this.#sightings.push({ ...seen, look: this.#look });
    const same = this.#sightings.filter(({ lag }) => Math.abs(lag - seen.lag) <= SAME_LAG);
    const clear = same.filter(({ alone }) => alone >= QUITE_ALONE).length >= 2;
    const often = same.length >= OFTEN && this.#look - same[0].look >= LOOKS_IN_WINDOW;
    if (!clear && !often) return null;
    return { delayMs: (1000 * seen.lag) / GUARD_RATE, gainDb: 20 * Math.log10(Math.abs(gainAt(share, call, seen.lag))) };
  }

  /** The delay at which the call stands out of the share, and how much; null where it does not. */
  #clearest(share: Float32Array, call: Float32Array): { lag: number; alone: number } | null {
    const { size } = this.#fft;
    const [s, c] = [this.#share, this.#call];
    s.re.fill(0, 0, GUARD_WINDOW);
    s.re.set(share, GUARD_WINDOW);
    taper(s.re, GUARD_WINDOW, size);
    s.im.fill(0);
    c.re.set(call);
    taper(c.re, 0, size);
    c.im.fill(0);
    this.#fft.forward(s.re, s.im);
    this.#fft.forward(c.re, c.im);
    for (let k = 0; k < size; k++) {
      const hz = (Math.min(k, size - k) * GUARD_RATE) / size;
      const re = s.re[k] * c.re[k] + s.im[k] * c.im[k];
      const im = s.im[k] * c.re[k] - s.re[k] * c.im[k];
      const magnitude = Math.hypot(re, im);
      const weight = hz < LOWEST_HZ || hz > HIGHEST_HZ || magnitude === 0 ? 0 : 1 / magnitude;
      s.re[k] = re * weight;
      s.im[k] = im * weight;
    }
    this.#fft.inverse(s.re, s.im);
    let power = 0;
    let best = SHORTEST_LAG;
    for (let lag = SHORTEST_LAG; lag < LONGEST_LAG; lag++) {
      power += s.re[lag] * s.re[lag];
      if (Math.abs(s.re[lag]) > Math.abs(s.re[best])) best = lag;
    }
    const typical = Math.sqrt(power / (LONGEST_LAG - SHORTEST_LAG));
    let second = 0;
    for (let lag = SHORTEST_LAG; lag < LONGEST_LAG; lag++) {
      if (Math.abs(lag - best) > BESIDE && Math.abs(s.re[lag]) > second) second = Math.abs(s.re[lag]);
    }
    const peak = Math.abs(s.re[best]);
    return peak > CLEAR * typical && peak > ALONE * second ? { lag: best, alone: peak / second } : null;
  }
}

function taper(samples: Float64Array, from: number, to: number): void {
  for (let i = 0; i < TAPER; i++) {
    const gain = 0.5 - 0.5 * Math.cos((Math.PI * i) / TAPER);
    samples[from + i] *= gain;
    samples[to - 1 - i] *= gain;
  }
}

/** Least-squares gain of the call in the share at a delay. */
function gainAt(share: Float32Array, call: Float32Array, lag: number): number {
  let product = 0;
  let power = 0;
  for (let i = 0; i < GUARD_WINDOW; i++) {
    const then = call[GUARD_WINDOW + i - lag];
    product += share[i] * then;
    power += then * then;
  }
  return product / power;
}

function rms(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return Math.sqrt(sum / samples.length);
}
