import type { SoundGraph } from './graph';

/** Squarings of the loop matrix: its power 2^11 gives the radius to within 0.02 dB at 60 places. */
const SQUARINGS = 11;

/**
 * How far all outside couplings could rise together before sound grows by itself, dB; negative when
 * it does already, `Infinity` when there is no loop.
 *
 * Gains are taken as non-negative, which is the worst case over all phases: then sound grows exactly
 * when the spectral radius of the loop matrix reaches 1 (Perron–Frobenius), whatever the delays. The
 * matrix goes from where one coupling ends to where the next one ends, so every hop crosses exactly
 * one coupling: raising all of them by k raises the radius by k, and the margin is its inverse.
 */
export function stabilityMarginDb(graph: SoundGraph): number {
  const ends = [...new Set(graph.edges.flatMap((edges) => edges.filter(({ coupling }) => coupling).map(({ to }) => to)))];
  const matrix = new Float64Array(ends.length * ends.length);
  ends.forEach((end, row) => {
    const reach = reachWithoutCouplings(graph, end);
    for (const [place, gain] of reach) {
      for (const edge of graph.edges[place]) {
        if (edge.coupling) matrix[row * ends.length + ends.indexOf(edge.to)] += gain * edge.gain;
      }
    }
  });
  return -20 * Math.log10(spectralRadius(matrix));
}

/** Gain from a place to every place that the desk alone leads to, itself included. */
function reachWithoutCouplings(graph: SoundGraph, from: number): Map<number, number> {
  const reach = new Map([[from, 1]]);
  // Source, listener, ears: the desk is at most two steps deep, so two rounds reach everything.
  let front = [from];
  while (front.length > 0) {
    const next = new Set<number>();
    for (const place of front) {
      for (const { to, gain, coupling } of graph.edges[place]) {
        if (coupling) continue;
        reach.set(to, (reach.get(to) ?? 0) + reach.get(place)! * gain);
        next.add(to);
      }
    }
    front = [...next];
  }
  return reach;
}

/** Spectral radius of a non-negative matrix by Gelfand's formula: the limit of ‖Aⁿ‖^(1/n). */
export function spectralRadius(matrix: Float64Array): number {
  const size = Math.round(Math.sqrt(matrix.length));
  let power = matrix;
  let logScale = 0;
  for (let k = 0; k < SQUARINGS; k++) {
    const norm = largestRowSum(power, size);
    if (norm === 0) return 0;
    // Scaled to norm 1 before each squaring, so that nothing overflows; the scale is kept as a log.
    for (let i = 0; i < power.length; i++) power[i] /= norm;
    logScale = 2 * (logScale + Math.log(norm));
    power = squared(power, size);
  }
  const norm = largestRowSum(power, size);
  return norm === 0 ? 0 : Math.exp((logScale + Math.log(norm)) / 2 ** SQUARINGS);
}

function squared(matrix: Float64Array, size: number): Float64Array {
  const result = new Float64Array(matrix.length);
  for (let i = 0; i < size; i++) {
    for (let k = 0; k < size; k++) {
      const factor = matrix[i * size + k];
      if (factor === 0) continue;
      for (let j = 0; j < size; j++) result[i * size + j] += factor * matrix[k * size + j];
    }
  }
  return result;
}

function largestRowSum(matrix: Float64Array, size: number): number {
  let largest = 0;
  for (let row = 0; row < size; row++) {
    let sum = 0;
    for (let column = 0; column < size; column++) sum += matrix[row * size + column];
    largest = Math.max(largest, sum);
  }
  return largest;
}
