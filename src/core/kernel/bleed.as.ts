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
