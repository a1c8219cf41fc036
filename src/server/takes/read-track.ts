import { wavHeader } from '@/core/formats/wav/header';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES, chunkCount, chunkFrames, SAMPLE_RATE } from '@/core/takes/chunks';
import { PEAK_FRAMES, thinPeaks } from '@/core/takes/peaks';
import type { Querier } from '../database';
import { readChunk, readPeaks } from './chunk-store';
import type { TrackRow } from './queries';

/** A whole track as a WAV file, a chunk at a time; what never arrived is silence. */
export async function* trackAsWav(
  db: Querier,
  track: TrackRow,
  lengthSamples: number,
): AsyncGenerator<Uint8Array> {
  yield wavHeader({ format: track.format, channels: track.channels, sampleRate: SAMPLE_RATE }, lengthSamples);
  for (let index = 0; index < chunkCount(lengthSamples); index++) {
    yield await chunkOfTrack(db, track, lengthSamples, index);
  }
  if (wavBytes(track, lengthSamples) % 2 === 1) yield new Uint8Array(1);
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
  const frameBytes = BYTES_PER_SAMPLE[track.format] * track.channels;
  const bytes = chunkFrames(lengthSamples, index) * frameBytes;
  const stored = await readChunk(db, track.id, index);
  if (stored?.length === bytes) return stored;
  const whole = new Uint8Array(bytes);
  if (stored) whole.set(stored.subarray(0, bytes));
  return whole;
}

/** Outline of a track in at most `columns` columns of lowest and highest sample. */
export async function trackPeaks(
  db: Querier,
  track: TrackRow,
  lengthSamples: number,
  columns: number,
): Promise<Int16Array<ArrayBuffer>> {
  const all = new Int16Array(2 * Math.ceil(lengthSamples / PEAK_FRAMES));
  const perChunk = (2 * CHUNK_FRAMES) / PEAK_FRAMES;
  for (const { index, peaks } of await readPeaks(db, track.id)) {
    const values = new Int16Array(peaks.buffer.slice(peaks.byteOffset, peaks.byteOffset + peaks.length));
    all.set(values.subarray(0, all.length - index * perChunk), index * perChunk);
  }
  return thinPeaks(all, columns);
}
