/**
 * Peak of both sides of the first `length` samples, and as f64 at `sum` the sum of squares of both sides, which is NaN or
 * infinite where a sample is.
 */
export function measure(signal: usize, side: usize, length: usize, sum: usize): f32 {
  let peaks = f32x4.splat(0);
  let squares = f32x4.splat(0);
  const end = length << 2;
  const end4 = (length >> 2) << 4;
  let i: usize = 0;
  for (; i < end4; i += 16) {
    const l = v128.load(signal + i);
    const r = v128.load(signal + side + i);
    peaks = f32x4.pmax(peaks, f32x4.pmax(f32x4.abs(l), f32x4.abs(r)));
    squares = f32x4.add(squares, f32x4.add(f32x4.mul(l, l), f32x4.mul(r, r)));
  }
  let peak = max(
    max(f32x4.extract_lane(peaks, 0), f32x4.extract_lane(peaks, 1)),
    max(f32x4.extract_lane(peaks, 2), f32x4.extract_lane(peaks, 3)),
  );
  let total =
    <f64>f32x4.extract_lane(squares, 0) + <f64>f32x4.extract_lane(squares, 1) +
    <f64>f32x4.extract_lane(squares, 2) + <f64>f32x4.extract_lane(squares, 3);
  for (; i < end; i += 4) {
    const l = load<f32>(signal + i);
    const r = load<f32>(signal + side + i);
    if (abs(l) > peak) peak = abs(l);
    if (abs(r) > peak) peak = abs(r);
    total += <f64>l * <f64>l + <f64>r * <f64>r;
  }
  store<f64>(sum, total);
  return peak;
}

// K-weighting (ITU-R BS.1770-5, annex 1, tables 1 and 2, for 48 kHz): a shelf, then a high-pass, transposed direct form II,
// left and right in one vector.

@inline
function shelf(x: v128, s1: v128): v128 {
  return f64x2.add(f64x2.mul(f64x2.splat(1.53512485958697), x), s1);
}

@inline
function shelf1(x: v128, y: v128, s2: v128): v128 {
  // What depends on the last output comes last, so that the rest is done by then.
  return f64x2.sub(f64x2.add(f64x2.mul(f64x2.splat(-2.69169618940638), x), s2), f64x2.mul(f64x2.splat(-1.69065929318241), y));
}

@inline
function shelf2(x: v128, y: v128): v128 {
  return f64x2.sub(f64x2.mul(f64x2.splat(1.19839281085285), x), f64x2.mul(f64x2.splat(0.73248077421585), y));
}

@inline
function highPass1(y: v128, z: v128, h2: v128): v128 {
  return f64x2.sub(f64x2.sub(h2, f64x2.add(y, y)), f64x2.mul(f64x2.splat(-1.99004745483398), z));
}

@inline
function highPass2(y: v128, z: v128): v128 {
  return f64x2.sub(y, f64x2.mul(f64x2.splat(0.99007225036621), z));
}

@inline
function stereoAt(signal: usize, side: usize, i: usize): v128 {
  return f64x2.promote_low_f32x4(f32x4.replace_lane(v128.load32_zero(signal + i), 1, load<f32>(signal + side + i)));
}

/**
 * Weighs two signals in one go, which takes less than twice as long as one: while a filter waits for itself the other works. At its `meter` each has the
 * four pairs of filter states, kept between calls, then as f64 the sum of squares of both sides after K-weighting.
 */
export function weighTwo(a: usize, b: usize, side: usize, length: usize, meterA: usize, meterB: usize): void {
  let as1 = v128.load(meterA);
  let as2 = v128.load(meterA, 16);
  let ah1 = v128.load(meterA, 32);
  let ah2 = v128.load(meterA, 48);
  let bs1 = v128.load(meterB);
  let bs2 = v128.load(meterB, 16);
  let bh1 = v128.load(meterB, 32);
  let bh2 = v128.load(meterB, 48);
  let aSum = f64x2.splat(0), bSum = aSum;
  for (let i: usize = 0; i < length << 2; i += 4) {
    const ax = stereoAt(a, side, i);
    const bx = stereoAt(b, side, i);
    const ay = shelf(ax, as1);
    const by = shelf(bx, bs1);
    as1 = shelf1(ax, ay, as2);
    bs1 = shelf1(bx, by, bs2);
    as2 = shelf2(ax, ay);
    bs2 = shelf2(bx, by);
    const az = f64x2.add(ay, ah1);
    const bz = f64x2.add(by, bh1);
    ah1 = highPass1(ay, az, ah2);
    bh1 = highPass1(by, bz, bh2);
    ah2 = highPass2(ay, az);
    bh2 = highPass2(by, bz);
    aSum = f64x2.add(aSum, f64x2.mul(az, az));
    bSum = f64x2.add(bSum, f64x2.mul(bz, bz));
  }
  v128.store(meterA, as1);
  v128.store(meterA, as2, 16);
  v128.store(meterA, ah1, 32);
  v128.store(meterA, ah2, 48);
  v128.store(meterB, bs1);
  v128.store(meterB, bs2, 16);
  v128.store(meterB, bh1, 32);
  v128.store(meterB, bh2, 48);
  store<f64>(meterA, f64x2.extract_lane(aSum, 0) + f64x2.extract_lane(aSum, 1), 64);
  store<f64>(meterB, f64x2.extract_lane(bSum, 0) + f64x2.extract_lane(bSum, 1), 64);
}
