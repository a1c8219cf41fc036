// The inner loops of the engine, in AssemblyScript (compiled to WebAssembly with SIMD by
// `npm run kernel`). A stereo signal is two runs of floats: left at its address, right `side`
// bytes later. Every sample is computed in 32-bit float in the order of the operands, in the
// vector loop and in its tail alike, so results do not depend on how sound is cut into blocks.

/**
 * An operand of a mix in memory: u32 address of the source's left side, then f32 gain and f32 step a
 * sample for the left side, and the same for the right.
 */
const OPERAND_BYTES: usize = 20;
const RIGHT_GAIN: usize = 8;

/** One side of one listener, gains standing still: out[from..to) = Σ source · gain. */
function mixSide(out: usize, operands: usize, count: i32, shift: usize, gains: usize, from: usize, to: usize): void {
  let i = from << 2;
  const end = to << 2;
  const end32 = i + (((to - from) >> 5) << 7);
  const end4 = i + (((to - from) >> 2) << 4);
  const last = operands + <usize>count * OPERAND_BYTES;
  for (; i < end32; i += 128) {
    let a = f32x4.splat(0);
    let b = a, c = a, d = a, e = a, f = a, g = a, h = a;
    for (let o = operands; o < last; o += OPERAND_BYTES) {
      const s = <usize>load<u32>(o) + shift + i;
      const gain = v128.load32_splat(o + gains, 4);
      a = f32x4.add(a, f32x4.mul(v128.load(s), gain));
      b = f32x4.add(b, f32x4.mul(v128.load(s, 16), gain));
      c = f32x4.add(c, f32x4.mul(v128.load(s, 32), gain));
      d = f32x4.add(d, f32x4.mul(v128.load(s, 48), gain));
      e = f32x4.add(e, f32x4.mul(v128.load(s, 64), gain));
      f = f32x4.add(f, f32x4.mul(v128.load(s, 80), gain));
      g = f32x4.add(g, f32x4.mul(v128.load(s, 96), gain));
      h = f32x4.add(h, f32x4.mul(v128.load(s, 112), gain));
    }
    v128.store(out + i, a);
    v128.store(out + i, b, 16);
    v128.store(out + i, c, 32);
    v128.store(out + i, d, 48);
    v128.store(out + i, e, 64);
    v128.store(out + i, f, 80);
    v128.store(out + i, g, 96);
    v128.store(out + i, h, 112);
  }
  for (; i < end4; i += 16) {
    let a = f32x4.splat(0);
    for (let o = operands; o < last; o += OPERAND_BYTES) {
      const s = <usize>load<u32>(o) + shift + i;
      a = f32x4.add(a, f32x4.mul(v128.load(s), v128.load32_splat(o + gains, 4)));
    }
    v128.store(out + i, a);
  }
  for (; i < end; i += 4) {
    let a: f32 = 0;
    for (let o = operands; o < last; o += OPERAND_BYTES) {
      a += load<f32>(<usize>load<u32>(o) + shift + i) * load<f32>(o + gains, 4);
    }
    store<f32>(out + i, a);
  }
}

export function mixSteady(out: usize, operands: usize, count: i32, side: usize, from: usize, to: usize): void {
  mixSide(out, operands, count, 0, 0, from, to);
  mixSide(out + side, operands, count, side, RIGHT_GAIN, from, to);
}

/** One side of one listener while gains move: sample i of the block has gain + step · i. */
function rampSide(out: usize, operands: usize, count: i32, shift: usize, gains: usize, from: usize, to: usize): void {
  let i = from << 2;
  const end = to << 2;
  const end16 = i + (((to - from) >> 4) << 6);
  const last = operands + <usize>count * OPERAND_BYTES;
  for (; i < end16; i += 64) {
    const first = <f32>(i >> 2);
    const ia = f32x4.add(f32x4.splat(first), f32x4(0, 1, 2, 3));
    const ib = f32x4.add(f32x4.splat(first), f32x4(4, 5, 6, 7));
    const ic = f32x4.add(f32x4.splat(first), f32x4(8, 9, 10, 11));
    const id = f32x4.add(f32x4.splat(first), f32x4(12, 13, 14, 15));
    let a = f32x4.splat(0);
    let b = a, c = a, d = a;
    for (let o = operands; o < last; o += OPERAND_BYTES) {
      const s = <usize>load<u32>(o) + shift + i;
      const gain = v128.load32_splat(o + gains, 4);
      const step = v128.load32_splat(o + gains, 8);
      a = f32x4.add(a, f32x4.mul(v128.load(s), f32x4.add(gain, f32x4.mul(step, ia))));
      b = f32x4.add(b, f32x4.mul(v128.load(s, 16), f32x4.add(gain, f32x4.mul(step, ib))));
      c = f32x4.add(c, f32x4.mul(v128.load(s, 32), f32x4.add(gain, f32x4.mul(step, ic))));
      d = f32x4.add(d, f32x4.mul(v128.load(s, 48), f32x4.add(gain, f32x4.mul(step, id))));
    }
    v128.store(out + i, a);
    v128.store(out + i, b, 16);
    v128.store(out + i, c, 32);
    v128.store(out + i, d, 48);
  }
  for (; i < end; i += 4) {
    let a: f32 = 0;
    for (let o = operands; o < last; o += OPERAND_BYTES) {
      a += load<f32>(<usize>load<u32>(o) + shift + i) * (load<f32>(o + gains, 4) + load<f32>(o + gains, 8) * <f32>(i >> 2));
    }
    store<f32>(out + i, a);
  }
}

export function mixRamping(out: usize, operands: usize, count: i32, side: usize, from: usize, to: usize): void {
  rampSide(out, operands, count, 0, 0, from, to);
  rampSide(out + side, operands, count, side, RIGHT_GAIN, from, to);
}

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

// @ts-ignore: decorator
@inline
function shelf(x: v128, s1: v128): v128 {
  return f64x2.add(f64x2.mul(f64x2.splat(1.53512485958697), x), s1);
}

// @ts-ignore: decorator
@inline
function shelf1(x: v128, y: v128, s2: v128): v128 {
  // What depends on the last output comes last, so that the rest is done by then.
  return f64x2.sub(f64x2.add(f64x2.mul(f64x2.splat(-2.69169618940638), x), s2), f64x2.mul(f64x2.splat(-1.69065929318241), y));
}

// @ts-ignore: decorator
@inline
function shelf2(x: v128, y: v128): v128 {
  return f64x2.sub(f64x2.mul(f64x2.splat(1.19839281085285), x), f64x2.mul(f64x2.splat(0.73248077421585), y));
}

// @ts-ignore: decorator
@inline
function highPass1(y: v128, z: v128, h2: v128): v128 {
  return f64x2.sub(f64x2.sub(h2, f64x2.add(y, y)), f64x2.mul(f64x2.splat(-1.99004745483398), z));
}

// @ts-ignore: decorator
@inline
function highPass2(y: v128, z: v128): v128 {
  return f64x2.sub(y, f64x2.mul(f64x2.splat(0.99007225036621), z));
}

// @ts-ignore: decorator
@inline
function stereoAt(signal: usize, side: usize, i: usize): v128 {
  return f64x2.promote_low_f32x4(f32x4.replace_lane(v128.load32_zero(signal + i), 1, load<f32>(signal + side + i)));
}

/**
 * Weighs two signals in one go, which takes hardly longer than one: filters wait for themselves. At its `meter` each has the
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

/** A filter in memory: b0, b1, b2, a1, a2 as f64, then from byte 48 on the last two inputs and outputs, left and right in one vector. */
const FILTER_BYTES: usize = 112;
const TINY: f64 = 1e-25;

/** What is far below hearing becomes 0: a filter that rings out would end in numbers that take ten times as long. */
function flushed(x: v128): v128 {
  return v128.bitselect(x, f64x2.splat(0), f64x2.gt(f64x2.abs(x), f64x2.splat(TINY)));
}

/** Filters of second order one after another, direct form I. `input` and `output` may be the same. */
export function filterCascade(input: usize, output: usize, side: usize, length: usize, filters: usize, count: i32): void {
  let from = input;
  const last = filters + <usize>count * FILTER_BYTES;
  for (let f = filters; f < last; f += FILTER_BYTES) {
    const b0 = v128.load64_splat(f);
    const b1 = v128.load64_splat(f, 8);
    const b2 = v128.load64_splat(f, 16);
    const a1 = v128.load64_splat(f, 24);
    const a2 = v128.load64_splat(f, 32);
    let x1 = v128.load(f, 48);
    let x2 = v128.load(f, 64);
    let y1 = v128.load(f, 80);
    let y2 = v128.load(f, 96);
    for (let i: usize = 0; i < length << 2; i += 4) {
      const x = f64x2.replace_lane(f64x2.splat(<f64>load<f32>(from + i)), 1, <f64>load<f32>(from + side + i));
      // What depends on the last output comes last, so that the rest is done by then.
      const ahead = f64x2.sub(f64x2.add(f64x2.add(f64x2.mul(b0, x), f64x2.mul(b1, x1)), f64x2.mul(b2, x2)), f64x2.mul(a2, y2));
      const y = f64x2.sub(ahead, f64x2.mul(a1, y1));
      x2 = x1;
      x1 = x;
      y2 = y1;
      y1 = y;
      store<f32>(output + i, <f32>f64x2.extract_lane(y, 0));
      store<f32>(output + side + i, <f32>f64x2.extract_lane(y, 1));
    }
    v128.store(f, x1, 48);
    v128.store(f, x2, 64);
    v128.store(f, flushed(y1), 80);
    v128.store(f, flushed(y2), 96);
    from = output;
  }
}

// The bleed filter (core/echo/bleed-filter.ts), one partition at a time: spectra as f64, `count` bins, an even number.

/** What a partition makes of a reference is added to `re` and `im`. */
export function partitionEstimate(xRe: usize, xIm: usize, wRe: usize, wIm: usize, re: usize, im: usize, count: usize): void {
  for (let k: usize = 0; k < count << 3; k += 16) {
    const xr = v128.load(xRe + k);
    const xi = v128.load(xIm + k);
    const wr = v128.load(wRe + k);
    const wi = v128.load(wIm + k);
    v128.store(re + k, f64x2.add(v128.load(re + k), f64x2.sub(f64x2.mul(wr, xr), f64x2.mul(wi, xi))));
    v128.store(im + k, f64x2.add(v128.load(im + k), f64x2.add(f64x2.mul(wr, xi), f64x2.mul(wi, xr))));
  }
}

/** What a partition is unsure of is added to `gain`. */
export function partitionUnsure(xRe: usize, xIm: usize, uncertainty: usize, gain: usize, count: usize): void {
  for (let k: usize = 0; k < count << 3; k += 16) {
    const xr = v128.load(xRe + k);
    const xi = v128.load(xIm + k);
    const power = f64x2.add(f64x2.mul(xr, xr), f64x2.mul(xi, xi));
    v128.store(gain + k, f64x2.add(v128.load(gain + k), f64x2.mul(v128.load(uncertainty + k), power)));
  }
}

/** A partition learns from the error: the Kalman filter's step. */
export function partitionLearn(
  xRe: usize, xIm: usize, wRe: usize, wIm: usize, uncertainty: usize, errorRe: usize, errorIm: usize, gain: usize,
  transition: f64, change: f64, count: usize,
): void {
  const keeps = f64x2.splat(transition);
  const kept = f64x2.splat(transition * transition);
  const fresh = f64x2.splat(1 - transition * transition);
  const more = f64x2.splat(change);
  const one = f64x2.splat(1);
  const half = f64x2.splat(0.5);
  for (let k: usize = 0; k < count << 3; k += 16) {
    const xr = v128.load(xRe + k);
    const xi = v128.load(xIm + k);
    const er = v128.load(errorRe + k);
    const ei = v128.load(errorIm + k);
    const unsure = v128.load(uncertainty + k);
    const step = f64x2.div(unsure, v128.load(gain + k));
    const wr = f64x2.mul(keeps, f64x2.add(v128.load(wRe + k), f64x2.mul(step, f64x2.add(f64x2.mul(xr, er), f64x2.mul(xi, ei)))));
    const wi = f64x2.mul(keeps, f64x2.add(v128.load(wIm + k), f64x2.mul(step, f64x2.sub(f64x2.mul(xr, ei), f64x2.mul(xi, er)))));
    const power = f64x2.add(f64x2.mul(xr, xr), f64x2.mul(xi, xi));
    const left = f64x2.mul(f64x2.mul(kept, f64x2.sub(one, f64x2.mul(f64x2.mul(half, step), power))), unsure);
    const size = f64x2.add(f64x2.add(f64x2.mul(wr, wr), f64x2.mul(wi, wi)), more);
    v128.store(wRe + k, wr);
    v128.store(wIm + k, wi);
    v128.store(uncertainty + k, f64x2.add(left, f64x2.mul(fresh, size)));
  }
}

// FFT (core/dsp/fft.ts): decimation in time, two stages in one pass over the memory.

/** Puts the values of `re` and `im` where the first stage wants them: `swaps` holds pairs of places. */
export function fftReorder(re: usize, im: usize, swaps: usize, count: i32): void {
  const last = swaps + (<usize>count << 3);
  for (let s = swaps; s < last; s += 8) {
    const k = <usize>load<u32>(s) << 3;
    const j = <usize>load<u32>(s, 4) << 3;
    const r = load<f64>(re + k);
    const i = load<f64>(im + k);
    store<f64>(re + k, load<f64>(re + j));
    store<f64>(im + k, load<f64>(im + j));
    store<f64>(re + j, r);
    store<f64>(im + j, i);
  }
}

/** One stage by itself, for sizes that are no power of four. */
export function fftFirst(re: usize, im: usize, size: usize): void {
  for (let k: usize = 0; k < size << 3; k += 16) {
    const a = load<f64>(re + k), b = load<f64>(re + k, 8);
    store<f64>(re + k, a + b);
    store<f64>(re + k, a - b, 8);
    const c = load<f64>(im + k), d = load<f64>(im + k, 8);
    store<f64>(im + k, c + d);
    store<f64>(im + k, c - d, 8);
  }
}

/** Two stages, the first of which joins runs of `half`, one or an even number. `turns`: cosines and sines of the first, then of the second, `half` of each. */
export function fftTwoStages(re: usize, im: usize, size: usize, half: usize, sign: f64, turns: usize): void {
  if (half == 1) return fftTwoFirst(re, im, size, sign);
  const run = half << 3;
  const signs = f64x2.splat(sign);
  for (let start: usize = 0; start < size << 3; start += run << 2) {
    for (let k: usize = 0; k < run; k += 16) {
      const w1r = v128.load(turns + k);
      const w1i = f64x2.mul(signs, v128.load(turns + run + k));
      const w2r = v128.load(turns + 2 * run + k);
      const w2i = f64x2.mul(signs, v128.load(turns + 3 * run + k));
      const r0 = re + start + k;
      const i0 = im + start + k;
      const r1 = r0 + run, r2 = r1 + run, r3 = r2 + run;
      const i1 = i0 + run, i2 = i1 + run, i3 = i2 + run;
      let xr = v128.load(r1);
      let xi = v128.load(i1);
      let tr = f64x2.sub(f64x2.mul(xr, w1r), f64x2.mul(xi, w1i));
      let ti = f64x2.add(f64x2.mul(xr, w1i), f64x2.mul(xi, w1r));
      xr = v128.load(r0);
      xi = v128.load(i0);
      const a0r = f64x2.add(xr, tr);
      const a0i = f64x2.add(xi, ti);
      const a1r = f64x2.sub(xr, tr);
      const a1i = f64x2.sub(xi, ti);
      xr = v128.load(r3);
      xi = v128.load(i3);
      tr = f64x2.sub(f64x2.mul(xr, w1r), f64x2.mul(xi, w1i));
      ti = f64x2.add(f64x2.mul(xr, w1i), f64x2.mul(xi, w1r));
      xr = v128.load(r2);
      xi = v128.load(i2);
      const a2r = f64x2.add(xr, tr);
      const a2i = f64x2.add(xi, ti);
      const a3r = f64x2.sub(xr, tr);
      const a3i = f64x2.sub(xi, ti);
      tr = f64x2.sub(f64x2.mul(a2r, w2r), f64x2.mul(a2i, w2i));
      ti = f64x2.add(f64x2.mul(a2r, w2i), f64x2.mul(a2i, w2r));
      v128.store(r0, f64x2.add(a0r, tr));
      v128.store(i0, f64x2.add(a0i, ti));
      v128.store(r2, f64x2.sub(a0r, tr));
      v128.store(i2, f64x2.sub(a0i, ti));
      // A quarter turn further: times i, in the direction of the transform.
      tr = f64x2.mul(f64x2.neg(signs), f64x2.add(f64x2.mul(a3r, w2i), f64x2.mul(a3i, w2r)));
      ti = f64x2.mul(signs, f64x2.sub(f64x2.mul(a3r, w2r), f64x2.mul(a3i, w2i)));
      v128.store(r1, f64x2.add(a1r, tr));
      v128.store(i1, f64x2.add(a1i, ti));
      v128.store(r3, f64x2.sub(a1r, tr));
      v128.store(i3, f64x2.sub(a1i, ti));
    }
  }
}

export function fftScale(re: usize, im: usize, size: usize, by: f64): void {
  const factor = f64x2.splat(by);
  for (let k: usize = 0; k < size << 3; k += 16) {
    v128.store(re + k, f64x2.mul(v128.load(re + k), factor));
    v128.store(im + k, f64x2.mul(v128.load(im + k), factor));
  }
}

/** The first two stages, whose turns are whole ones and quarters. */
function fftTwoFirst(re: usize, im: usize, size: usize, sign: f64): void {
  for (let p: usize = 0; p < size << 3; p += 32) {
    const r0 = load<f64>(re + p), r1 = load<f64>(re + p, 8), r2 = load<f64>(re + p, 16), r3 = load<f64>(re + p, 24);
    const i0 = load<f64>(im + p), i1 = load<f64>(im + p, 8), i2 = load<f64>(im + p, 16), i3 = load<f64>(im + p, 24);
    const a0r = r0 + r1, a0i = i0 + i1, a1r = r0 - r1, a1i = i0 - i1;
    const a2r = r2 + r3, a2i = i2 + i3, a3r = r2 - r3, a3i = i2 - i3;
    store<f64>(re + p, a0r + a2r);
    store<f64>(im + p, a0i + a2i);
    store<f64>(re + p, a0r - a2r, 16);
    store<f64>(im + p, a0i - a2i, 16);
    store<f64>(re + p, a1r - sign * a3i, 8);
    store<f64>(im + p, a1i + sign * a3r, 8);
    store<f64>(re + p, a1r + sign * a3i, 24);
    store<f64>(im + p, a1i - sign * a3r, 24);
  }
}
