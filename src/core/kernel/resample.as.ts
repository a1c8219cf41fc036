/** Samples that shape one value, and places between two samples for which the filter is kept; as in dsp/sinc.ts. */
const TAPS: i32 = 64;
const PHASES: f64 = 1024;

/**
 * Values of an interleaved stereo signal between its samples, `step` apart from `at` on, interleaved at `out`. `table` holds the
 * filter of each kept place as f64; between two of them it is interpolated. Returns the next place.
 */
export function resampleStereo(signal: usize, out: usize, count: i32, at: f64, step: f64, table: usize): f64 {
  for (let k = 0; k < count; k++) {
    const whole = Math.floor(at);
    const place = (at - whole) * PHASES;
    const phase = Math.floor(place);
    const share = place - phase;
    let row = table + (<usize>phase * TAPS << 3);
    let from = signal + ((<usize>(<i32>whole - (TAPS / 2 - 1))) << 3);
    const end = row + (<usize>TAPS << 3);
    let sum = f64x2.splat(0);
    for (; row < end; row += 8, from += 8) {
      const weight = load<f64>(row);
      const between = weight + share * (load<f64>(row, TAPS << 3) - weight);
      sum = f64x2.add(sum, f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(from)), f64x2.splat(between)));
    }
    store<f32>(out, <f32>f64x2.extract_lane(sum, 0));
    store<f32>(out, <f32>f64x2.extract_lane(sum, 1), 4);
    out += 8;
    at += step;
  }
  return at;
}
