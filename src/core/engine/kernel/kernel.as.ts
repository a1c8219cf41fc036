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

/** The same while gains move: sample i of the block has gain + step · i. */
export function mixRamping(out: usize, operands: usize, count: i32, side: usize, from: usize, to: usize): void {
  const last = operands + <usize>count * OPERAND_BYTES;
  for (let i = from; i < to; i++) {
    const at = i << 2;
    let left: f32 = 0;
    let right: f32 = 0;
    for (let o = operands; o < last; o += OPERAND_BYTES) {
      const s = <usize>load<u32>(o) + at;
      left += load<f32>(s) * (load<f32>(o, 4) + load<f32>(o, 8) * <f32>i);
      right += load<f32>(s + side) * (load<f32>(o, 12) + load<f32>(o, 16) * <f32>i);
    }
    store<f32>(out + at, left);
    store<f32>(out + side + at, right);
  }
}

/**
 * Peak of both sides of the first `length` samples; NaN or infinite when a sample is. Stores the
 * sum of squares of both sides as f64 at `sum`.
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
    peaks = f32x4.max(peaks, f32x4.max(f32x4.abs(l), f32x4.abs(r)));
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
    peak = max(peak, max(abs(l), abs(r)));
    total += <f64>l * <f64>l + <f64>r * <f64>r;
  }
  store<f64>(sum, total);
  return peak;
}

/**
 * Sum of squares of both sides after K-weighting (ITU-R BS.1770-5, annex 1, tables 1 and 2, for
 * 48 kHz): a shelf, then a high-pass, transposed direct form II, left and right in one vector.
 * `state` holds the four pairs of filter states between calls.
 */
export function weightedPower(signal: usize, side: usize, length: usize, state: usize): f64 {
  const b0 = f64x2.splat(1.53512485958697);
  const b1 = f64x2.splat(-2.69169618940638);
  const b2 = f64x2.splat(1.19839281085285);
  const a1 = f64x2.splat(-1.69065929318241);
  const a2 = f64x2.splat(0.73248077421585);
  const p1 = f64x2.splat(-1.99004745483398);
  const p2 = f64x2.splat(0.99007225036621);
  const two = f64x2.splat(2);
  let s1 = v128.load(state);
  let s2 = v128.load(state, 16);
  let h1 = v128.load(state, 32);
  let h2 = v128.load(state, 48);
  let sum = f64x2.splat(0);
  for (let i: usize = 0; i < length << 2; i += 4) {
    const x = f64x2.replace_lane(f64x2.splat(<f64>load<f32>(signal + i)), 1, <f64>load<f32>(signal + side + i));
    const y = f64x2.add(f64x2.mul(b0, x), s1);
    s1 = f64x2.add(f64x2.sub(f64x2.mul(b1, x), f64x2.mul(a1, y)), s2);
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
    const z = f64x2.add(y, h1);
    h1 = f64x2.sub(h2, f64x2.add(f64x2.mul(two, y), f64x2.mul(p1, z)));
    h2 = f64x2.sub(y, f64x2.mul(p2, z));
    sum = f64x2.add(sum, f64x2.mul(z, z));
  }
  v128.store(state, s1);
  v128.store(state, s2, 16);
  v128.store(state, h1, 32);
  v128.store(state, h2, 48);
  return f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1);
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
