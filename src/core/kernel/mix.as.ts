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
