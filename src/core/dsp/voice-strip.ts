import type { Biquad } from './biquad';

/** What is done to one voice; both may be off. */
export interface VoiceStripSettings {
  /** Takes away what is below {@link LOW_CUT_HZ}: steps, traffic, wind on the microphone. */
  lowCut: boolean;
  /** Holds loud words down: everything above {@link THRESHOLD_DB} is a third as loud above it. Nothing is raised. */
  evenOut: boolean;
}

export const LOW_CUT_HZ = 80;
/** Level of a voice from which it is held down, dBFS (root mean square of some 10 ms). */
export const THRESHOLD_DB = -26;
export const RATIO = 3;
/** Around the threshold the ratio comes in over this range, dB. */
const KNEE_DB = 8;
const LEVEL_SECONDS = 0.01;
const ATTACK_SECONDS = 0.008;
const RELEASE_SECONDS = 0.16;
/** In which each part comes and goes, so that nothing clicks. */
const FADE_SECONDS = 0.01;
/** The gain is worked out so often, samples, and moves in a straight line between. */
const STEP = 16;
/** Far below the last bit of 24. */
const SILENT = 1e-20;

/** Butterworth high-pass of second order (bilinear transform). */
function highPass(hz: number, sampleRate: number): Biquad {
  const k = Math.tan((Math.PI * hz) / sampleRate);
  const norm = 1 / (1 + Math.SQRT2 * k + k * k);
  return { b0: norm, b1: -2 * norm, b2: norm, a1: 2 * (k * k - 1) * norm, a2: (1 - Math.SQRT2 * k + k * k) * norm };
}

/** Gain for a level, dB: the static curve with a soft knee (Giannoulis, Massberg and Reiss, JAES 60(6), 2012, equation 4). */
export function evenOutGainDb(levelDb: number): number {
  const over = levelDb - THRESHOLD_DB;
  const slope = 1 / RATIO - 1;
  if (2 * over < -KNEE_DB) return 0;
  if (2 * over > KNEE_DB) return slope * over;
  return (slope * (over + KNEE_DB / 2) ** 2) / (2 * KNEE_DB);
}

/**
 * A voice on its way into the mixes: low cut, then a leveller whose two sides move together. It is not later than what comes
 * in, and never louder than the low cut makes it, so that no loop gains by it.
 */
export class VoiceStrip {
  readonly #filter: Biquad;
  // Two states a side (transposed direct form II).
  readonly #state = new Float64Array(4);
  readonly #fadeStep: number;
  readonly #smoothing: { level: number; attack: number; release: number };
  #settings: VoiceStripSettings = { lowCut: false, evenOut: false };
  /** How much of each part is in what comes out, 0 to 1. */
  #cut = 0;
  #even = 0;
  #meanSquare = 0;
  #gainDb = 0;
  #gain = 1;
  #gainStep = 0;
  #inStep = 0;

  constructor(sampleRate = 48000) {
    this.#filter = highPass(LOW_CUT_HZ, sampleRate);
    this.#fadeStep = 1 / (FADE_SECONDS * sampleRate);
    const a = (seconds: number, samples: number) => 1 - Math.exp(-samples / (seconds * sampleRate));
    this.#smoothing = { level: a(LEVEL_SECONDS, 1), attack: a(ATTACK_SECONDS, STEP), release: a(RELEASE_SECONDS, STEP) };
  }

  /** Other settings; what comes or goes does so in 10 ms. */
  set(settings: VoiceStripSettings): void {
    if (settings.lowCut && this.#cut === 0) this.#state.fill(0);
    if (settings.evenOut && this.#even === 0) {
      this.#meanSquare = this.#gainDb = this.#gainStep = this.#inStep = 0;
      this.#gain = 1;
    }
    this.#settings = settings;
  }

  /** Whether what comes out would be what goes in. */
  atRest(): boolean {
    return this.#cut === 0 && this.#even === 0 && !this.#settings.lowCut && !this.#settings.evenOut;
  }

  process(left: Float32Array, right: Float32Array, outLeft: Float32Array, outRight: Float32Array, length: number): void {
    const { b0, b1, b2, a1, a2 } = this.#filter;
    const { lowCut, evenOut } = this.#settings;
    const { level, attack, release } = this.#smoothing;
    const state = this.#state;
    let cut = this.#cut;
    let even = this.#even;
    let meanSquare = this.#meanSquare;
    let gain = this.#gain;
    for (let i = 0; i < length; i++) {
      cut = faded(cut, lowCut, this.#fadeStep);
      even = faded(even, evenOut, this.#fadeStep);
      let l = left[i];
      let r = right[i];
      if (cut > 0) {
        const cutLeft = b0 * l + state[0];
        state[0] = b1 * l - a1 * cutLeft + state[1];
        state[1] = b2 * l - a2 * cutLeft;
        const cutRight = b0 * r + state[2];
        state[2] = b1 * r - a1 * cutRight + state[3];
        state[3] = b2 * r - a2 * cutRight;
        l += cut * (cutLeft - l);
        r += cut * (cutRight - r);
      }
      if (even > 0) {
        meanSquare += level * ((l * l + r * r) / 2 - meanSquare);
        if (this.#inStep === 0) {
          const wanted = evenOutGainDb(10 * Math.log10(meanSquare + 1e-12));
          this.#gainDb += (wanted < this.#gainDb ? attack : release) * (wanted - this.#gainDb);
          this.#gainStep = (10 ** (this.#gainDb / 20) - gain) / STEP;
        }
        this.#inStep = (this.#inStep + 1) % STEP;
        gain += this.#gainStep;
        const share = 1 + even * (gain - 1);
        l *= share;
        r *= share;
      }
      outLeft[i] = l;
      outRight[i] = r;
    }
    // A filter that rings out into silence ends in numbers so small that a processor takes ten times as long for them.
    for (let k = 0; k < state.length; k++) if (Math.abs(state[k]) < SILENT) state[k] = 0;
    this.#cut = cut;
    this.#even = even;
    this.#meanSquare = meanSquare < SILENT ? 0 : meanSquare;
    this.#gain = gain;
  }
}

const faded = (share: number, on: boolean, step: number): number => (on ? Math.min(1, share + step) : Math.max(0, share - step));
