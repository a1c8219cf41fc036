import type pg from 'pg';
import { wavHeader } from '@/core/formats/wav/header';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES, chunkCount, chunkFrames, SAMPLE_RATE } from '@/core/takes/chunks';
import { PEAK_FRAMES, thinPeaks } from '@/core/takes/peaks';
import type { Querier } from '../database';
import { keepOverview, readChunk, readChunks, readOverview, readPeaks } from './chunk-store';
import type { TrackRow } from './queries';

/** A whole track as a WAV file, a chunk at a time; what never arrived is silence. */
export async function* trackAsWav(
  pool: pg.Pool,
  track: TrackRow,
  lengthSamples: number,
): AsyncGenerator<Uint8Array> {
  yield wavHeader({ format: track.format, channels: track.channels, sampleRate: SAMPLE_RATE }, lengthSamples);
  yield* wavDataOfTrack(pool, track, lengthSamples);
}

/** What follows the header of a track's WAV file: its samples, and a byte that makes their number even. */
export async function* wavDataOfTrack(pool: pg.Pool, track: TrackRow, lengthSamples: number): AsyncGenerator<Uint8Array> {
  yield* samplesOfTrack(pool, track, lengthSamples);
  if (wavBytes(track, lengthSamples) % 2 === 1) yield new Uint8Array(1);
}

/** So many chunks are read at once. */
export const READ_AT_ONCE = 8;

/** All samples of a track as they are stored, interleaved, whole frames at a time; silence where nothing arrived. */
export async function* samplesOfTrack(pool: pg.Pool, track: TrackRow, lengthSamples: number): AsyncGenerator<Uint8Array> {
  const count = chunkCount(lengthSamples);
  const read = (first: number) => (first < count ? wholeChunks(pool, track, lengthSamples, first, first + READ_AT_ONCE) : Promise.resolve([]));
  let next = read(0);
  for (let first = 0; first < count; first += READ_AT_ONCE) {
    const chunks = await next;
    // The database looks for the next ones while these are on their way.
    next = read(first + READ_AT_ONCE);
    // Whoever stops listening does not wait for them.
    next.catch(() => undefined);
    yield* chunks;
  }
}

/** Chunks `first` to `end` (exclusive) in full length, silence where nothing arrived. */
export async function wholeChunks(pool: pg.Pool, track: TrackRow, lengthSamples: number, first: number, end: number): Promise<Uint8Array[]> {
  const last = Math.min(end, chunkCount(lengthSamples));
  const stored = await readChunks(pool, track.id, first, last);
  return Array.from({ length: last - first }, (_, k) => whole(track, lengthSamples, first + k, stored.get(first + k) ?? null));
}

/** Length of the file {@link trackAsWav} makes, bytes. */
export function wavFileBytes(track: TrackRow, lengthSamples: number): number {
  const bytes = wavBytes(track, lengthSamples);
  const header = track.format === 'float32' ? 58 : 44;
  return header + bytes + (bytes % 2);
}

function wavBytes(track: TrackRow, lengthSamples: number): number {
  return lengthSamples * track.channels * BYTES_PER_SAMPLE[track.format];
}

/** One chunk in full length, silence where nothing arrived. */
export async function chunkOfTrack(
  db: Querier,
  track: TrackRow,
  lengthSamples: number,
  index: number,
): Promise<Uint8Array> {
  return whole(track, lengthSamples, index, await readChunk(db, track.id, index));
}

function whole(track: TrackRow, lengthSamples: number, index: number, stored: Uint8Array | null): Uint8Array {
  const bytes = chunkFrames(lengthSamples, index) * BYTES_PER_SAMPLE[track.format] * track.channels;
  if (stored?.length === bytes) return stored;
  const filled = new Uint8Array(bytes);
  if (stored) filled.set(stored.subarray(0, bytes));
  return filled;
}

/** Columns of the kept overview: one second each. */
const OVERVIEW_COLUMNS_PER_CHUNK = CHUNK_FRAMES / SAMPLE_RATE;

/**
 * Outline of a stretch of a track in at most `columns` columns of lowest and highest sample. The whole of a sealed
 * track comes from an overview that is made once.
 */
export async function trackPeaks(
  db: Querier,
  track: TrackRow,
  lengthSamples: number,
  { columns, from = 0, to = lengthSamples }: { columns: number; from?: number; to?: number },
): Promise<Int16Array<ArrayBuffer>> {
  const perColumn = (to - from) / columns;
  if (perColumn >= SAMPLE_RATE) {
    const overview = await overviewOf(db, track, lengthSamples);
    return thinPeaks(overview.subarray(2 * Math.floor(from / SAMPLE_RATE), 2 * Math.ceil(to / SAMPLE_RATE)), columns);
  }
  const first = Math.floor(from / CHUNK_FRAMES);
  const all = await finePeaks(db, track, first, Math.ceil(to / CHUNK_FRAMES), lengthSamples);
  const offset = first * (CHUNK_FRAMES / PEAK_FRAMES);
  return thinPeaks(all.subarray(2 * (Math.floor(from / PEAK_FRAMES) - offset), 2 * (Math.ceil(to / PEAK_FRAMES) - offset)), columns);
}

/** Peaks of chunks `first` to `end` (exclusive) at {@link PEAK_FRAMES}; silence where nothing arrived. */
async function finePeaks(db: Querier, track: TrackRow, first: number, end: number, lengthSamples: number): Promise<Int16Array<ArrayBuffer>> {
  const perChunk = (2 * CHUNK_FRAMES) / PEAK_FRAMES;
  const last = Math.min(end * CHUNK_FRAMES, lengthSamples);
  const all = new Int16Array(2 * Math.max(0, Math.ceil((last - first * CHUNK_FRAMES) / PEAK_FRAMES)));
  for (const { index, peaks } of await readPeaks(db, track.id, first, end)) {
    const values = new Int16Array(peaks.buffer.slice(peaks.byteOffset, peaks.byteOffset + peaks.length));
    const at = (index - first) * perChunk;
    all.set(values.subarray(0, all.length - at), at);
  }
  return all;
}

async function overviewOf(db: Querier, track: TrackRow, lengthSamples: number): Promise<Int16Array<ArrayBuffer>> {
  const kept = await readOverview(db, track.id);
  if (kept) return new Int16Array(Uint8Array.from(kept).buffer);
  const chunks = chunkCount(lengthSamples);
  const fine = await finePeaks(db, track, 0, chunks, lengthSamples);
  const overview = new Int16Array(2 * Math.ceil(lengthSamples / SAMPLE_RATE));
  const perSecond = (CHUNK_FRAMES / PEAK_FRAMES) / OVERVIEW_COLUMNS_PER_CHUNK;
  for (let second = 0; second < overview.length / 2; second++) {
    overview.set(thinPeaks(fine.subarray(2 * second * perSecond, 2 * (second + 1) * perSecond), 1), 2 * second);
  }
  await keepOverview(db, track.id, Buffer.from(overview.buffer));
  return overview;
}
