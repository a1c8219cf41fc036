import { BYTES_PER_SAMPLE, decodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { PEAK_FRAMES } from '@/core/takes/peaks';
import type { TakeData, TakeTrack } from '@/core/session/take-data';

/** What a stretch of a track looks like: lowest and highest sample of each column, ×32767. */
export interface Outline {
  from: number;
  to: number;
  columns: Int16Array;
}

/** At most this many chunks are read sample by sample for one look. */
const MOST_CHUNKS = 4;

/** Outline of a stretch, from kept peaks or, looked at closely, from the samples. @throws {Error} */
export async function loadOutline(take: TakeData, track: TakeTrack, view: { from: number; to: number }, columns: number, signal: AbortSignal): Promise<Outline> {
  const { from, to } = view;
  const first = Math.floor(from / CHUNK_FRAMES);
  const end = Math.ceil(to / CHUNK_FRAMES);
  if ((to - from) / columns < PEAK_FRAMES && end - first <= MOST_CHUNKS) return closeOutline(take, track, view, columns, signal);
  const response = await fetch(`/api/takes/${take.id}/tracks/${track.id}/peaks?columns=${columns}&from=${from}&to=${to}`, { signal });
  if (!response.ok) throw new Error(`The outline could not be loaded (${response.status}).`);
  return { from, to, columns: new Int16Array(await response.arrayBuffer()) };
}

async function closeOutline(take: TakeData, track: TakeTrack, { from, to }: { from: number; to: number }, columns: number, signal: AbortSignal): Promise<Outline> {
  const count = Math.min(columns, to - from);
  const outline = new Int16Array(2 * count);
  const first = Math.floor(from / CHUNK_FRAMES);
  for (let index = first; index * CHUNK_FRAMES < to; index++) {
    const response = await fetch(`/api/takes/${take.id}/tracks/${track.id}/chunks/${index}`, { signal });
    if (!response.ok) throw new Error(`The sound could not be loaded (${response.status}).`);
    const bytes = new Uint8Array(await response.arrayBuffer());
    const start = Math.max(from, index * CHUNK_FRAMES);
    // Only what is seen is decoded: sixteen tracks are looked at together.
    const frameBytes = BYTES_PER_SAMPLE[track.format] * track.channels;
    const seen = bytes.subarray((start - index * CHUNK_FRAMES) * frameBytes, Math.max(0, to - index * CHUNK_FRAMES) * frameBytes);
    for (const samples of decodeSamples(track.format, track.channels, seen)) {
      for (let k = 0; k < samples.length; k++) {
        const column = Math.min(count - 1, Math.floor(((start + k - from) * count) / (to - from)));
        const value = Math.max(-32768, Math.min(32767, Math.round(samples[k] * 32767)));
        if (value < outline[2 * column]) outline[2 * column] = value;
        if (value > outline[2 * column + 1]) outline[2 * column + 1] = value;
      }
    }
  }
  return { from, to, columns: outline };
}
