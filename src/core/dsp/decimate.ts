/** Samples at 48 kHz for one at 16 kHz. */
export const TO_16_KHZ = 3;
/** Samples on either side of an output that shape it. */
export const DECIMATE_REACH = 48;

/** Low-pass at 7 kHz for 48 kHz: sinc under a Blackman window (below −70 dB from 8.7 kHz on). */
const LOW_PASS = Float64Array.from({ length: 2 * DECIMATE_REACH + 1 }, (_, n) => {
  const x = n - DECIMATE_REACH;
  const cutoff = 7000 / 48000;
  const window = 0.42 + 0.5 * Math.cos((Math.PI * x) / DECIMATE_REACH) + 0.08 * Math.cos((2 * Math.PI * x) / DECIMATE_REACH);
  return (x === 0 ? 2 * cutoff : Math.sin(2 * Math.PI * cutoff * x) / (Math.PI * x)) * window;
});

/**
 * A stretch at 48 kHz as one at 16 kHz, without delay: output `i` lies at sample `3 i` of the input.
 * What lies outside the stretch counts as silence.
 */
export function decimateTo16k(samples: Float32Array): Float32Array<ArrayBuffer> {
  const out = new Float32Array(Math.floor(samples.length / TO_16_KHZ));
  for (let i = 0; i < out.length; i++) {
    const middle = i * TO_16_KHZ;
    // The filter is the same on both sides of its middle.
    let sum = LOW_PASS[DECIMATE_REACH] * samples[middle];
    const reach = Math.min(DECIMATE_REACH, middle, samples.length - 1 - middle);
    for (let n = 1; n <= reach; n++) sum += LOW_PASS[DECIMATE_REACH + n] * (samples[middle - n] + samples[middle + n]);
    for (let n = reach + 1; n <= DECIMATE_REACH; n++) sum += LOW_PASS[DECIMATE_REACH + n] * ((samples[middle - n] ?? 0) + (samples[middle + n] ?? 0));
    out[i] = sum;
  }
  return out;
}
