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
