import { decodeSamples } from '@/core/formats/wav/sample-format';
import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import type { ReadSamples } from '@/core/alignment/recordings';
import type { Querier } from '../database';
import { readHomeChunk, type HomeRow } from './queries';

/** Chunks kept: a window of several seconds, read twice. */
const KEPT_CHUNKS = 48;

/** Any stretch of a recording made at home; silence where nothing has arrived. */
export function createHomeReader(db: Querier, home: HomeRow): ReadSamples {
  const kept = new Map<number, Float32Array>();
  const chunk = async (index: number): Promise<Float32Array> => {
    const there = kept.get(index);
    if (there) return there;
    const bytes = index < 0 ? null : await readHomeChunk(db, home.id, index);
    const samples = bytes ? decodeSamples(home.format, 1, bytes)[0] : new Float32Array(0);
    kept.set(index, samples);
    if (kept.size > KEPT_CHUNKS) kept.delete(kept.keys().next().value!);
    return samples;
  };
  return async (from, length) => {
    const out = new Float32Array(length);
    for (let done = 0; done < length; ) {
      const index = Math.floor((from + done) / HOME_CHUNK_FRAMES);
      const offset = from + done - index * HOME_CHUNK_FRAMES;
      const count = Math.min(length - done, HOME_CHUNK_FRAMES - offset);
      const samples = await chunk(index);
      if (offset < samples.length) out.set(samples.subarray(offset, Math.min(samples.length, offset + count)), done);
      done += count;
    }
    return out;
  };
}
