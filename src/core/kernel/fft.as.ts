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

/** Two values times a turn each: the real part, and the other. */
@inline
function turnedRe(re: v128, im: v128, cos: v128, sin: v128): v128 {
  return f64x2.sub(f64x2.mul(re, cos), f64x2.mul(im, sin));
}

@inline
function turnedIm(re: v128, im: v128, cos: v128, sin: v128): v128 {
  return f64x2.add(f64x2.mul(re, sin), f64x2.mul(im, cos));
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
      let tr = turnedRe(xr, xi, w1r, w1i);
      let ti = turnedIm(xr, xi, w1r, w1i);
      xr = v128.load(r0);
      xi = v128.load(i0);
      const a0r = f64x2.add(xr, tr);
      const a0i = f64x2.add(xi, ti);
      const a1r = f64x2.sub(xr, tr);
      const a1i = f64x2.sub(xi, ti);
      xr = v128.load(r3);
      xi = v128.load(i3);
      tr = turnedRe(xr, xi, w1r, w1i);
      ti = turnedIm(xr, xi, w1r, w1i);
      xr = v128.load(r2);
      xi = v128.load(i2);
      const a2r = f64x2.add(xr, tr);
      const a2i = f64x2.add(xi, ti);
      const a3r = f64x2.sub(xr, tr);
      const a3i = f64x2.sub(xi, ti);
      tr = turnedRe(a2r, a2i, w2r, w2i);
      ti = turnedIm(a2r, a2i, w2r, w2i);
      v128.store(r0, f64x2.add(a0r, tr));
      v128.store(i0, f64x2.add(a0i, ti));
      v128.store(r2, f64x2.sub(a0r, tr));
      v128.store(i2, f64x2.sub(a0i, ti));
      // A quarter turn further: times i, in the direction of the transform.
      tr = f64x2.mul(f64x2.neg(signs), turnedIm(a3r, a3i, w2r, w2i));
      ti = f64x2.mul(signs, turnedRe(a3r, a3i, w2r, w2i));
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
