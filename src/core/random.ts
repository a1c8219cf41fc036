/**
 * Seeded pseudo-random numbers, so that every simulation can be run again sample by sample.
 * The generator is mulberry32 (32-bit state, full period); good enough for schedules and noise,
 * not for secrets.
 */
export interface Random {
  /** Uniform in [0, 1). */
  next(): number;
  /** Uniform in [low, high). */
  between(low: number, high: number): number;
  /** Uniform whole number in [0, count). */
  index(count: number): number;
  /** Normal, mean 0, deviation 1 (Box–Muller). */
  normal(): number;
}

export function createRandom(seed: number): Random {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    between: (low, high) => low + (high - low) * next(),
    index: (count) => Math.floor(next() * count),
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
  };
}

/** A seed for one named part of a simulation, so that parts do not share a sequence. */
export function seedFor(seed: number, part: string): number {
  let hash = (2166136261 ^ seed) >>> 0; // FNV-1a over the name, started from the seed
  for (let i = 0; i < part.length; i++) hash = Math.imul(hash ^ part.charCodeAt(i), 16777619) >>> 0;
  return hash;
}
