import type pg from 'pg';
import { decodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES, chunkFrames } from '@/core/takes/chunks';
import type { TrackRow } from '../takes/queries';
import { READ_AT_ONCE, wholeChunks } from '../takes/read-track';

/** Any stretch of a track, with a few chunks in memory. */
export interface TrackReader {
  readonly track: TrackRow;
  /** All channels; silence outside the take. */
  stretch(fromSample: number, lengthSamples: number): Promise<Float32Array<ArrayBuffer>[]>;
  /** The mean of the channels. */
  mono(fromSample: number, lengthSamples: number): Promise<Float32Array<ArrayBuffer>>;
}

/** Decoded chunks kept: enough for a window of several seconds that is read twice. */
const KEPT_CHUNKS = 8;

export function createTrackReader(pool: pg.Pool, track: TrackRow, lengthSamples: number): TrackReader {
  const kept = new Map<number, Float32Array<ArrayBuffer>[]>();
  /** What was read last, as it is stored. */
  let batch = { first: 0, chunks: [] as Uint8Array[] };

  /** The one that is asked for; and what follows it, where it follows what was read. */
  const stored = async (index: number, last: number): Promise<Uint8Array> => {
    if (index < batch.first || index >= batch.first + batch.chunks.length) {
      const goesOn = index === 0 || index === batch.first + batch.chunks.length;
      batch = { first: index, chunks: await wholeChunks(pool, track, lengthSamples, index, goesOn ? index + READ_AT_ONCE : last + 1) };
    }
    return batch.chunks[index - batch.first];
  };

  const chunk = async (index: number, last: number): Promise<Float32Array<ArrayBuffer>[]> => {
    const there = kept.get(index);
    if (there) return there;
    const decoded = decodeSamples(track.format, track.channels, await stored(index, last));
    kept.set(index, decoded);
    if (kept.size > KEPT_CHUNKS) kept.delete(kept.keys().next().value!);
    return decoded;
  };

  const stretch = async (from: number, length: number): Promise<Float32Array<ArrayBuffer>[]> => {
    const out = Array.from({ length: track.channels }, () => new Float32Array(length));
    const end = Math.min(from + length, lengthSamples);
    for (let at = Math.max(0, from); at < end; ) {
      const index = Math.floor(at / CHUNK_FRAMES);
      const offset = at - index * CHUNK_FRAMES;
      const count = Math.min(end - at, chunkFrames(lengthSamples, index) - offset);
      const decoded = await chunk(index, Math.floor((end - 1) / CHUNK_FRAMES));
      out.forEach((channel, k) => channel.set(decoded[k].subarray(offset, offset + count), at - from));
      at += count;
    }
    return out;
  };

  return {
    track,
    stretch,
    async mono(from, length) {
      const [first, second] = await stretch(from, length);
      if (second) for (let i = 0; i < length; i++) first[i] = (first[i] + second[i]) / 2;
      return first;
    },
  };
}
