import { bessel0 } from './bessel';

/** Samples that shape one value, and positions between two samples for which the filter is kept. */
const TAPS = 64;
const PHASES = 1024;
const KAISER_BETA = 10;

/** Sinc under a Kaiser window for every kept position, one after another. */
export const SINC_TABLE = (() => {
  const table = new Float64Array((PHASES + 1) * TAPS);
  for (let phase = 0; phase <= PHASES; phase++) {
    for (let n = 0; n < TAPS; n++) {
      const x = n - (TAPS / 2 - 1) - phase / PHASES;
      const edge = Math.min(1, Math.abs(x) / (TAPS / 2));
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
      table[phase * TAPS + n] = (sinc * bessel0(KAISER_BETA * Math.sqrt(1 - edge * edge))) / bessel0(KAISER_BETA);
    }
  }
  return table;
})();

/** Value of a band-limited signal at any position, samples; outside the array it is silent. */
export function valueAt(samples: Float32Array, position: number): number {
  const whole = Math.floor(position);
  const place = (position - whole) * PHASES;
  const phase = Math.floor(place);
  const share = place - phase;
  const first = whole - (TAPS / 2 - 1);
  let sum = 0;
  for (let n = Math.max(0, -first); n < Math.min(TAPS, samples.length - first); n++) {
    const at = phase * TAPS + n;
    sum += samples[first + n] * (SINC_TABLE[at] + share * (SINC_TABLE[at + TAPS] - SINC_TABLE[at]));
  }
  return sum;
}

/** Samples before and behind a position that shape its value. */
export const SINC_REACH = TAPS / 2;
