/** A run of samples held at full scale. */
export interface ClippedRun {
  atSample: number;
  lengthSamples: number;
}

/** Places that are kept; all are counted. */
export const MOST_RUNS = 50;
/** From here on a sample counts as full scale: 24 bits less one part in ten thousand. */
export const FULL_SCALE = 0.9999;
/** Single samples at full scale are no clipping. */
const SHORTEST_RUN = 3;

/** Finds runs of samples at full scale. */
export function createClipFinder() {
  const clipped: ClippedRun[] = [];
  let runs = 0;
  let since = -1;
  const end = (at: number): void => {
    if (since >= 0 && at - since >= SHORTEST_RUN) {
      runs++;
      if (clipped.length < MOST_RUNS) clipped.push({ atSample: since, lengthSamples: at - since });
    }
    since = -1;
  };
  return {
    /** Whether a run goes on from one piece to the next. */
    open: () => since >= 0,
    push(largest: number, at: number): void {
      if (largest < FULL_SCALE) end(at);
      else if (since < 0) since = at;
    },
    result(length: number) {
      end(length);
      return { clippedRuns: runs, clipped };
    },
  };
}
