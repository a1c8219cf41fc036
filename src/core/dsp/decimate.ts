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
    out[i] = middle >= DECIMATE_REACH && middle + DECIMATE_REACH < samples.length ? inside(samples, middle) : atEdge(samples, middle);
  }
  return out;
}

/** The filter is the same on both sides of its middle; four sums at once keep a processor busy. */
function inside(samples: Float32Array, middle: number): number {
  let a = LOW_PASS[DECIMATE_REACH] * samples[middle];
  let b = 0;
  let c = 0;
  let d = 0;
  for (let n = 1; n <= DECIMATE_REACH; n += 4) {
    a += LOW_PASS[DECIMATE_REACH + n] * (samples[middle - n] + samples[middle + n]);
    b += LOW_PASS[DECIMATE_REACH + n + 1] * (samples[middle - n - 1] + samples[middle + n + 1]);
    c += LOW_PASS[DECIMATE_REACH + n + 2] * (samples[middle - n - 2] + samples[middle + n + 2]);
    d += LOW_PASS[DECIMATE_REACH + n + 3] * (samples[middle - n - 3] + samples[middle + n + 3]);
  }
  return a + b + c + d;
}

function atEdge(samples: Float32Array, middle: number): number {
  let sum = LOW_PASS[DECIMATE_REACH] * samples[middle];
  for (let n = 1; n <= DECIMATE_REACH; n++) sum += LOW_PASS[DECIMATE_REACH + n] * ((samples[middle - n] ?? 0) + (samples[middle + n] ?? 0));
  return sum;
}
