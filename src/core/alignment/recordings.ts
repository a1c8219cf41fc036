import { DECIMATE_REACH, decimateTo16k, TO_16_KHZ } from '../dsp/decimate';

/** Samples from `from` on, mono at 48 kHz; silence outside the recording. */
export type ReadSamples = (from: number, length: number) => Promise<Float32Array> | Float32Array;

/** One voice recorded twice: as it came over the line, on the session clock, and at its own end, by a clock of its own. */
export interface TwoRecordings {
  line: ReadSamples;
  lineSamples: number;
  home: ReadSamples;
  homeSamples: number;
}

/** Samples at 16 kHz that are decimated and kept at once. */
const BLOCK = 16000;
const KEPT_BLOCKS = 6;

/** Any stretch of a recording at 16 kHz, from sample `from` (at 16 kHz) on. Reads each sample about once while stretches move on. */
export function at16k(read: ReadSamples): (from: number, length: number) => Promise<Float32Array<ArrayBuffer>> {
  const kept = new Map<number, Float32Array>();
  const block = async (index: number): Promise<Float32Array> => {
    const there = kept.get(index);
    if (there) return there;
    const wide = await read(index * BLOCK * TO_16_KHZ - DECIMATE_REACH, BLOCK * TO_16_KHZ + 2 * DECIMATE_REACH);
    const made = decimateTo16k(wide).subarray(DECIMATE_REACH / TO_16_KHZ, DECIMATE_REACH / TO_16_KHZ + BLOCK);
    kept.set(index, made);
    if (kept.size > KEPT_BLOCKS) kept.delete(kept.keys().next().value!);
    return made;
  };
  return async (from, length) => {
    const out = new Float32Array(length);
    for (let done = 0; done < length; ) {
      const index = Math.floor((from + done) / BLOCK);
      const offset = from + done - index * BLOCK;
      const count = Math.min(length - done, BLOCK - offset);
      out.set((await block(index)).subarray(offset, offset + count), done);
      done += count;
    }
    return out;
  };
}
