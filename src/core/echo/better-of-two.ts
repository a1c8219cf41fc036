import { FILTER_BLOCK } from './bleed-filter';

/** How far before and after a block is looked at to tell which is better there: a sixth of a second each. */
const AROUND = 16;
const LEAST_POWER = 1e-12 * FILTER_BLOCK;

/**
 * Two attempts at the same: what is left of a track once the others were taken out of it. Says what is best of both: the share of
 * each that leaves least (a convex combination of two adaptive filters: Arenas-García and others, 2006, found here by least
 * squares). Whoever speaks in the track is in both alike and has no say in it; blocks in which somebody speaks count less, as
 * they tell less. The share moves in a straight line from block to block, also from one call to the next.
 */
export function betterOfTwo(): (one: Float32Array, other: Float32Array) => Float32Array<ArrayBuffer> {
  let last = 0.5;
  return (one, other) => {
    const blocks = one.length / FILTER_BLOCK;
    // Sums of all blocks before each.
    const [agree, differ] = [new Float64Array(blocks + 1), new Float64Array(blocks + 1)];
    for (let b = 0; b < blocks; b++) {
      let [along, apart, power] = [0, 0, LEAST_POWER];
      for (let i = b * FILTER_BLOCK; i < (b + 1) * FILTER_BLOCK; i++) {
        const difference = one[i] - other[i];
        along += one[i] * difference;
        apart += difference * difference;
        power += one[i] * one[i] + other[i] * other[i];
      }
      agree[b + 1] = agree[b] + along / power;
      differ[b + 1] = differ[b] + apart / power;
    }
    const out = new Float32Array(one.length);
    for (let b = 0; b < blocks; b++) {
      const [from, to] = [Math.max(0, b - AROUND), Math.min(blocks, b + AROUND + 1)];
      const apart = differ[to] - differ[from];
      const share = apart > 0 ? Math.max(0, Math.min(1, (agree[to] - agree[from]) / apart)) : 0.5;
      for (let i = 0; i < FILTER_BLOCK; i++) {
        const at = b * FILTER_BLOCK + i;
        out[at] = one[at] + (last + ((share - last) * i) / FILTER_BLOCK) * (other[at] - one[at]);
      }
      last = share;
    }
    return out;
  };
}
