import { DECIMATE_REACH, decimateTo16k, TO_16_KHZ } from '../dsp/decimate';
import { BLEED_LEAD, createBleedLevel } from './bleed-level';
import { COMPARE_RATE, COMPARE_WINDOW, createDelaySearch, EARLIEST_LAG, LATEST_LAG, type FoundDelay } from './delay-search';

/** One source in one track. */
export interface Isolation {
  source: number;
  target: number;
  /**
   * `bleeds`: it was found. `clean`: nothing of it was found. `unknown`: something was found whose level is
   * lost in what else is there. `not-measurable`: they never sounded at the same time.
   */
  verdict: 'bleeds' | 'clean' | 'unknown' | 'not-measurable';
  /** Level in the track against its level in its own track, dB. */
  gainDb: number | null;
  delayMs: number | null;
  /** Where the track shows it most clearly, samples at 48 kHz. */
  atSample: number | null;
}

/** Gives a stretch of one track, mono at 48 kHz; outside the take it is silence. */
export type TrackStretch = (track: number, fromSample: number, lengthSamples: number) => Promise<Float32Array> | Float32Array;

export interface IsolationRequest {
  /** All tracks that are compared. */
  count: number;
  /** The tracks in which the others are looked for. */
  targets: readonly number[];
  lengthSamples: number;
  read: TrackStretch;
  /** Share done, 0 to 1. */
  onProgress?(share: number): Promise<void> | void;
}

/** Samples at 48 kHz in one window, and how much more is read beside it for sources that are moved. */
const WINDOW_48 = COMPARE_WINDOW * TO_16_KHZ;
const MARGIN = Math.max(LATEST_LAG, -EARLIEST_LAG) + 2048;
/** Of a long take this much is compared, evenly spread: 8 minutes. */
const MOST_WINDOWS = 120;
/** For many tracks fewer windows, so that their pairs take no longer. */
const MOST_PAIR_WINDOWS = 120 * 30;

/**
 * The isolation matrix of a take: how much of each track is in each other one, how late. First the delays,
 * by whitened cross-correlation over all windows; then, where something was found, the levels.
 */
export async function measureIsolation(request: IsolationRequest): Promise<Isolation[]> {
  const { count, targets, lengthSamples, read, onProgress } = request;
  const starts = windowStarts(lengthSamples, Math.max(12, Math.min(MOST_WINDOWS, Math.floor(MOST_PAIR_WINDOWS / Math.max(1, targets.length * (count - 1))))));
  const tracks = Array.from({ length: count }, (_, track) => track);
  const search = createDelaySearch(count, targets);
  for (const [k, start] of starts.entries()) {
    const window: Float32Array[] = [];
    for (const track of tracks) window.push((await at16k(read, track, start, COMPARE_WINDOW)).slice());
    search.push(window);
    await onProgress?.((0.7 * (k + 1)) / starts.length);
  }
  const found: Isolation[] = [];
  for (const [k, target] of targets.entries()) {
    const pairs = tracks.filter((track) => track !== target).map((source) => ({ source, delay: search.found(source, target) }));
    const heard = pairs.flatMap(({ source, delay }) => (delay ? [{ source, delay }] : []));
    const levels = await levelsOf(target, heard, starts, read);
    for (const { source, delay } of pairs) {
      const gainDb = levels.get(source) ?? null;
      // What this source carries of the target itself shows as a copy before its time: that is the other pair's.
      const mirrored = delay && delay.lag < 0 && gainDb === null && search.found(target, source);
      const verdict = delay === undefined ? 'not-measurable' : delay === null || mirrored ? 'clean' : gainDb === null ? 'unknown' : 'bleeds';
      found.push({
        source,
        target,
        verdict,
        gainDb,
        delayMs: delay && !mirrored ? (1000 * delay.lag) / COMPARE_RATE : null,
        atSample: delay && !mirrored ? (starts[Math.max(0, delay.clearest)] ?? 0) : null,
      });
    }
    await onProgress?.(0.7 + (0.3 * (k + 1)) / targets.length);
  }
  return found;
}

/** The levels of what was found in one track, all together. */
async function levelsOf(target: number, heard: { source: number; delay: FoundDelay }[], starts: readonly number[], read: TrackStretch): Promise<Map<number, number | null>> {
  if (heard.length === 0) return new Map();
  const level = createBleedLevel(heard.length);
  for (const [window, start] of starts.entries()) {
    const sources: Float32Array[] = [];
    for (const { source, delay } of heard) {
      const lag = delay.perWindow.get(window) ?? delay.lag;
      const wide = await at16k(read, source, start - MARGIN * TO_16_KHZ, COMPARE_WINDOW + 2 * MARGIN);
      sources.push(wide.subarray(MARGIN - lag + BLEED_LEAD, MARGIN - lag + BLEED_LEAD + COMPARE_WINDOW));
    }
    level.push(await at16k(read, target, start, COMPARE_WINDOW), sources);
  }
  const levels = level.levels();
  return new Map(heard.map(({ source }, k) => [source, levels[k]]));
}

/** A stretch at {@link COMPARE_RATE}, read a little wider so that its ends are right. */
async function at16k(read: TrackStretch, track: number, from48: number, length: number): Promise<Float32Array> {
  const margin = DECIMATE_REACH;
  const wide = await read(track, from48 - margin, (length + 1) * TO_16_KHZ + 2 * margin);
  return decimateTo16k(wide).subarray(margin / TO_16_KHZ, margin / TO_16_KHZ + length);
}

function windowStarts(lengthSamples: number, most: number): number[] {
  const fitting = Math.max(1, Math.floor(lengthSamples / WINDOW_48));
  const count = Math.min(most, fitting);
  return Array.from({ length: count }, (_, k) => Math.floor((k * fitting) / count) * WINDOW_48);
}
