import { DECIMATE_REACH, decimateTo16k, TO_16_KHZ } from '../dsp/decimate';
import { BLEED_LEAD, createBleedLevel, type Level } from './bleed-level';
import { COMPARE_RATE, COMPARE_WINDOW, createDelaySearch, EARLIEST_LAG, LATEST_LAG, type DelaySearch, type FoundDelay } from './delay-search';

/** One source in one track. */
export interface Isolation {
  source: number;
  target: number;
  /**
   * `bleeds`: it was found. `clean`: nothing of it was found. `unknown`: something was found whose level is
   * lost in what else is there. `not-measurable`: they never sounded at the same time.
   */
  verdict: 'bleeds' | 'clean' | 'unknown' | 'not-measurable';
  /** Energy of what arrives in the track over energy of what was said, in the same stretches, unweighted, dB. */
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
  /** For a look that must be quick: so many windows of {@link ISOLATION_WINDOW} at most (never fewer than twelve), evenly spread. */
  mostWindows?: number;
  /** Share done, 0 to 1. */
  onProgress?(share: number): Promise<void> | void;
}

/** Samples at 48 kHz in one window. */
export const ISOLATION_WINDOW = COMPARE_WINDOW * TO_16_KHZ;
/** How much more is read beside it for sources that are moved, samples at 16 kHz. */
const MARGIN = Math.max(LATEST_LAG, -EARLIEST_LAG) + 2048;
/** So many are told apart at once; the work grows with the square of it. */
const MOST_TOLD_APART = 8;
/** What is certainly less than this is nothing, dB. */
const NOTHING_DB = -60;
/**
 * Two that speak alike (the same words, two made voices of one kind) resemble each other this much somewhere, once in a while. Such
 * a likeness counts where a level was measured with it; and as what is so loud would be clearer if it came by a way, only where that level
 * is so many times what chance gives (of what comes by a way it mostly is ten times and more).
 */
const ALIKE = { clarity: 12, loudDb: -45, overChance: 2 };
/** Delays nearer than this are one, samples: 20 ms. */
const SAME_LAG = 320;
/** Of a long take this much is compared, evenly spread: 8 minutes. */
const MOST_WINDOWS = 120;
/** For many tracks fewer windows, so that their pairs take no longer. */
const MOST_PAIR_WINDOWS = 120 * 30;

/**
 * The isolation matrix of a take: how much of each track is in each other one, how late. First the delays,
 * by whitened cross-correlation over all windows; then, where something was found, the levels.
 */
export async function measureIsolation(request: IsolationRequest): Promise<Isolation[]> {
  const { count, targets, lengthSamples, read, onProgress, mostWindows = MOST_WINDOWS } = request;
  const starts = windowStarts(lengthSamples, Math.max(12, Math.min(mostWindows, Math.floor(MOST_PAIR_WINDOWS / Math.max(1, targets.length * (count - 1))))));
  const tracks = Array.from({ length: count }, (_, track) => track);
  const search = createDelaySearch(count, targets);
  const windows = readAhead(starts, (start) => Promise.all(tracks.map(async (track) => (await at16k(read, track, start, COMPARE_WINDOW)).slice())));
  for await (const [k, window] of windows) {
    search.push(window);
    await onProgress?.((0.7 * (k + 1)) / starts.length);
  }
  const found: Isolation[] = [];
  const heard = new Map(targets.map((target) => [target, heardIn(target, count, search)]));
  const levels = await measureLevels(heard, starts, read, (share) => onProgress?.(0.7 + 0.3 * share));
  for (const target of targets) {
    for (const source of tracks.filter((track) => track !== target)) {
      const delay = search.found(source, target);
      const level = levels.get(target)?.get(source);
      const gainDb = level?.gainDb ?? null;
      // What this source carries of the target itself shows as a copy before its time: that is the other pair's.
      const back = delay && delay.lag < 0 && search.found(target, source);
      const mirrored = back && (gainDb === null || Math.abs(back.lag + delay.lag) < SAME_LAG);
      const alike = delay && level && delay.clarity < ALIKE.clarity && (gainDb === null || (gainDb > ALIKE.loudDb && level.overChance < ALIKE.overChance));
      const nothing = delay === null || mirrored || alike || (gainDb === null && level !== undefined && level.atMostDb < NOTHING_DB);
      const verdict = delay === undefined ? 'not-measurable' : nothing ? 'clean' : gainDb === null ? 'unknown' : 'bleeds';
      found.push({
        source,
        target,
        verdict,
        gainDb: nothing ? null : gainDb,
        delayMs: delay && !nothing ? (1000 * delay.lag) / COMPARE_RATE : null,
        atSample: delay && !nothing ? (starts[Math.max(0, delay.clearest)] ?? 0) : null,
      });
    }
  }
  return found;
}

interface Heard {
  source: number;
  delay: FoundDelay;
}

function heardIn(target: number, count: number, search: DelaySearch): Heard[] {
  return Array.from({ length: count }, (_, source) => source).flatMap((source) => {
    const delay = source === target ? null : search.found(source, target);
    return delay ? [{ source, delay }] : [];
  });
}

/**
 * What bleeds into a source and would arrive with it. Most of it does not: what goes on is the voice, not its track. Where it is
 * not told apart, the stretches in which a source holds only somebody else say that nothing of it arrives.
 */
function carriedAlong(target: number, direct: readonly Heard[], heard: ReadonlyMap<number, readonly Heard[]>): Heard[] {
  return direct.flatMap(({ source, delay }) =>
    (heard.get(source) ?? [])
      .filter((beside) => beside.source !== target && delay.lag + beside.delay.lag < LATEST_LAG)
      // Where it does arrive it was found there by itself.
      .filter((beside) => !direct.some((one) => one.source === beside.source && Math.abs(one.delay.lag - delay.lag - beside.delay.lag) < SAME_LAG))
      .map((beside) => ({ source: beside.source, delay: { ...beside.delay, lag: delay.lag + beside.delay.lag, perWindow: new Map<number, number>() } })),
  ).sort((a, b) => b.delay.clarity - a.delay.clarity);
}

/** For each target: the levels of all that was heard in it, together. Every window of a track is read once, whoever it is compared with. */
async function measureLevels(
  heard: ReadonlyMap<number, readonly Heard[]>,
  starts: readonly number[],
  read: TrackStretch,
  onProgress: (share: number) => Promise<void> | void,
): Promise<Map<number, Map<number, Level>>> {
  const judged = [...heard]
    .filter(([, sources]) => sources.length > 0)
    .map(([target, direct]) => {
      const sources = [...direct, ...carriedAlong(target, direct, heard).slice(0, Math.max(0, MOST_TOLD_APART - direct.length))];
      return { target, sources, level: createBleedLevel(sources.length, direct.length) };
    });
  const needed = [...new Set(judged.flatMap(({ target, sources }) => [target, ...sources.map(({ source }) => source)]))];
  const windows = readAhead(starts, async (start) => new Map(await Promise.all(needed.map(async (track) => [track, await at16k(read, track, start - MARGIN * TO_16_KHZ, COMPARE_WINDOW + 2 * MARGIN)] as const))));
  for await (const [window, wide] of windows) {
    /** A track's window, so many samples earlier. */
    const moved = (track: number, lag: number) => wide.get(track)!.subarray(MARGIN - lag, MARGIN - lag + COMPARE_WINDOW);
    for (const { target, sources, level } of judged) {
      level.push(moved(target, 0), sources.map(({ source, delay }) => moved(source, (delay.perWindow.get(window) ?? delay.lag) - BLEED_LEAD)));
    }
    await onProgress((window + 1) / starts.length);
  }
  return new Map(
    judged.map(({ target, level }) => {
      const levels = level.levels();
      return [target, new Map(heard.get(target)!.map(({ source }, k) => [source, levels[k]]))];
    }),
  );
}

/** What `read` gives of each, in order and with its number; the next is read while one is worked on. */
async function* readAhead<Read>(starts: readonly number[], read: (start: number) => Promise<Read>): AsyncGenerator<[number, Read]> {
  const begin = (k: number): Promise<Read> | null => {
    const next = k < starts.length ? read(starts[k]) : null;
    // Whoever stops does not wait for it.
    next?.catch(() => undefined);
    return next;
  };
  let next = begin(0);
  for (let k = 0; next; k++) {
    const here = await next;
    next = begin(k + 1);
    yield [k, here];
  }
}

/** A stretch at {@link COMPARE_RATE}, read a little wider so that its ends are right. */
async function at16k(read: TrackStretch, track: number, from48: number, length: number): Promise<Float32Array> {
  const margin = DECIMATE_REACH;
  const wide = await read(track, from48 - margin, (length + 1) * TO_16_KHZ + 2 * margin);
  return decimateTo16k(wide).subarray(margin / TO_16_KHZ, margin / TO_16_KHZ + length);
}

function windowStarts(lengthSamples: number, most: number): number[] {
  const fitting = Math.max(1, Math.floor(lengthSamples / ISOLATION_WINDOW));
  const count = Math.min(most, fitting);
  return Array.from({ length: count }, (_, k) => Math.floor((k * fitting) / count) * ISOLATION_WINDOW);
}
