import { MeasuringRoom } from '../kernel/measuring';

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
  const reaches = (middle: number) => middle >= DECIMATE_REACH && middle + DECIMATE_REACH < samples.length;
  const first = Math.min(out.length, Math.ceil(DECIMATE_REACH / TO_16_KHZ));
  let end = out.length;
  while (end > first && !reaches((end - 1) * TO_16_KHZ)) end--;
  if (end > first) inside(samples, out, first, end - first);
  for (let i = 0; i < out.length; i++) if (i < first || i >= end) out[i] = atEdge(samples, i * TO_16_KHZ);
  return out;
}

let room: { measuring: MeasuringRoom; taps: number } | null = null;

/** Outputs whose filter lies within the stretch, by the kernel. */
function inside(samples: Float32Array, out: Float32Array, first: number, count: number): void {
  if (!room) {
    const measuring = new MeasuringRoom();
    const half = LOW_PASS.subarray(DECIMATE_REACH);
    room = { measuring, taps: measuring.reserve(half.length * 8) };
    measuring.doubles(room.taps, half.length).set(half);
  }
  const { measuring, taps } = room;
  const from = measuring.free;
  const to = from + Math.ceil(samples.length / 4) * 16;
  measuring.need(from, to - from + count * 4);
  measuring.floats(from, samples.length).set(samples);
  measuring.functions.decimateByThree(from + first * TO_16_KHZ * 4, to, count, taps, DECIMATE_REACH);
  out.set(measuring.floats(to, count), first);
}

function atEdge(samples: Float32Array, middle: number): number {
  let sum = LOW_PASS[DECIMATE_REACH] * samples[middle];
  for (let n = 1; n <= DECIMATE_REACH; n++) sum += LOW_PASS[DECIMATE_REACH + n] * ((samples[middle - n] ?? 0) + (samples[middle + n] ?? 0));
  return sum;
}
