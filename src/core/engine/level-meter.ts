/**
 * Sample peak and mean square of many stereo signals between two readings, in flat arrays so that
 * a reader can copy them at once. Peaks are linear, mean squares are per channel averaged.
 */
export interface LevelMeters {
  readonly peak: Float32Array;
  readonly sumOfSquares: Float64Array;
  /** Samples counted since the last {@link LevelMeters.clear}. */
  samples(): number;
  count(length: number): void;
  clear(): void;
}

export function createLevelMeters(signals: number): LevelMeters {
  const peak = new Float32Array(signals);
  const sumOfSquares = new Float64Array(signals);
  let samples = 0;
  return {
    peak,
    sumOfSquares,
    samples: () => samples,
    count(length) {
      samples += length;
    },
    clear() {
      peak.fill(0);
      sumOfSquares.fill(0);
      samples = 0;
    },
  };
}

/** Mean square of one signal over the samples counted; 0 before any. */
export function meanSquare(meters: LevelMeters, signal: number): number {
  return meters.samples() === 0 ? 0 : meters.sumOfSquares[signal] / (2 * meters.samples());
}
