/** Memory of one part at one time. */
export interface Reading {
  minute: number;
  mb: number;
}

/** What a part has in use between two collections says little: the least of so many minutes does. */
const STRETCH_MINUTES = 4;

/**
 * By how much a part's memory grows, MB an hour: the median of the slopes between the least readings of each stretch of minutes
 * (Theil and Sen's estimator), so that single collections and single peaks do not count. Null from fewer than three stretches.
 * @param from minutes at the beginning that do not count: caches fill up
 */
export function growthPerHour(readings: readonly Reading[], from: number): number | null {
  const least = new Map<number, Reading>();
  for (const reading of readings) {
    if (reading.minute < from) continue;
    const stretch = Math.floor((reading.minute - from) / STRETCH_MINUTES);
    const before = least.get(stretch);
    if (!before || reading.mb < before.mb) least.set(stretch, reading);
  }
  const points = [...least.values()];
  if (points.length < 3) return null;
  const slopes = points.flatMap((a, k) => points.slice(k + 1).map((b) => ((b.mb - a.mb) / (b.minute - a.minute)) * 60));
  slopes.sort((a, b) => a - b);
  const middle = slopes.length / 2;
  return (slopes[Math.floor(middle - 0.5)] + slopes[Math.floor(middle)]) / 2;
}
