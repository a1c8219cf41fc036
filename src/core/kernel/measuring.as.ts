// Loops of measuring finished takes (core/dsp/decimate.ts, core/checks/hum.ts, core/measure/true-peak.ts), in 64-bit float.

@inline
function twoFrom(samples: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(samples));
}

@inline
function turnedRound(two: v128): v128 {
  return v128.shuffle<f64>(two, two, 1, 0);
}

/**
 * Every third of `samples` under a filter of `2 × reach + 1` taps, the same on both sides of its middle; `reach` is a multiple of
 * four. `samples` is the middle of the first, `taps` the filter from its middle on. Four sums at once, in this order.
 */
export function decimateByThree(samples: usize, out: usize, count: usize, taps: usize, reach: usize): void {
  const end = reach << 3;
  for (let k: usize = 0; k < count; k++) {
    const middle = samples + 12 * k;
    let ab = f64x2.replace_lane(f64x2.splat(0), 0, load<f64>(taps) * <f64>load<f32>(middle));
    let cd = f64x2.splat(0);
    for (let n: usize = 8; n <= end; n += 32) {
      const near = n >> 1;
      const one = f64x2.add(turnedRound(twoFrom(middle - near - 4)), twoFrom(middle + near));
      ab = f64x2.add(ab, f64x2.mul(v128.load(taps + n), one));
      const other = f64x2.add(turnedRound(twoFrom(middle - near - 12)), twoFrom(middle + near + 8));
      cd = f64x2.add(cd, f64x2.mul(v128.load(taps + n, 16), other));
    }
    const sum = f64x2.extract_lane(ab, 0) + f64x2.extract_lane(ab, 1) + f64x2.extract_lane(cd, 0) + f64x2.extract_lane(cd, 1);
    store<f32>(out + (k << 2), <f32>sum);
  }
}

/**
 * The recursion of Goertzel (1958) for six frequencies at once, over `samples` times `window`. `steps` holds twice the cosine of
 * each; its last two values of each are written to `last`: six of the last sample, then six of the one before.
 */
export function goertzelSix(samples: usize, window: usize, length: usize, steps: usize, last: usize): void {
  const stepA = v128.load(steps), stepB = v128.load(steps, 16), stepC = v128.load(steps, 32);
  let a1 = f64x2.splat(0), b1 = a1, c1 = a1, a2 = a1, b2 = a1, c2 = a1;
  for (let i: usize = 0; i < length << 2; i += 4) {
    const x = f64x2.splat(<f64>load<f32>(samples + i) * <f64>load<f32>(window + i));
    const a0 = f64x2.sub(f64x2.add(x, f64x2.mul(stepA, a1)), a2);
    const b0 = f64x2.sub(f64x2.add(x, f64x2.mul(stepB, b1)), b2);
    const c0 = f64x2.sub(f64x2.add(x, f64x2.mul(stepC, c1)), c2);
    a2 = a1;
    b2 = b1;
    c2 = c1;
    a1 = a0;
    b1 = b0;
    c1 = c0;
  }
  v128.store(last, a1);
  v128.store(last, b1, 16);
  v128.store(last, c1, 32);
  v128.store(last, a2, 48);
  v128.store(last, b2, 64);
  v128.store(last, c2, 80);
}

/** Four sums at once, in this order: they do not wait for each other. `count` is a multiple of eight. */
@inline
function between(samples: usize, taps: usize, count: usize): f64 {
  let ab = f64x2.splat(0), cd = ab, ef = ab, gh = ab;
  for (const end = samples + (count << 2); samples < end; samples += 32, taps += 64) {
    ab = f64x2.add(ab, f64x2.mul(v128.load(taps), twoFrom(samples)));
    cd = f64x2.add(cd, f64x2.mul(v128.load(taps, 16), twoFrom(samples + 8)));
    ef = f64x2.add(ef, f64x2.mul(v128.load(taps, 32), twoFrom(samples + 16)));
    gh = f64x2.add(gh, f64x2.mul(v128.load(taps, 48), twoFrom(samples + 24)));
  }
  const sum = f64x2.add(f64x2.add(ab, cd), f64x2.add(ef, gh));
  return abs(f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1));
}

/**
 * The largest of `peak` and of what lies at, beside and between the middles of the `count` stretches that begin with each of
 * `samples`. `taps` holds the filters of the three places in between, `reach` samples to either side, a multiple of four.
 */
export function largestBetween(samples: usize, count: usize, taps: usize, reach: usize, peak: f64): f64 {
  const width = 2 * reach;
  for (let k: usize = 0; k < count; k++, samples += 4) {
    const middle = samples + (reach << 2);
    const near = max(abs(<f64>load<f32>(middle - 4)), abs(<f64>load<f32>(middle)));
    peak = max(peak, near);
    // Between two samples a band-limited signal rises at most so far above them before others would show.
    if (near < peak * 0.5) continue;
    const half = between(samples, taps + (width << 3), width);
    peak = max(peak, half);
    // Up to 20 kHz nothing rises more than this above the places a quarter of a sample beside it.
    if (max(near, half) < peak * 0.75) continue;
    peak = max(peak, max(between(samples, taps, width), between(samples, taps + (width << 4), width)));
  }
  return peak;
}
