import { CHUNK_FRAMES } from './chunks';

/**
 * What a recorder keeps on its own disk: the blocks as they came from the audio thread, one record
 * after another, in segments. A record is the session clock of its first sample as a 64-bit float and
 * its channels as 32-bit floats, little-endian, as every browser's machine has them.
 */
const POSITION_BYTES = 8;

/** Frames whose blocks share a segment: five chunks, 10 s. A segment is let go once all of it is safe elsewhere. */
export const SEGMENT_FRAMES = 5 * CHUNK_FRAMES;

/** The segment that holds a frame of the take. */
export const segmentOf = (frame: number): number => Math.floor(frame / SEGMENT_FRAMES);

/** @param blockFrames samples in each record */
export const recordBytes = (channels: number, blockFrames: number): number => POSITION_BYTES + 4 * channels * blockFrames;

/** Records gathered until they are written together. */
export interface JournalBatch {
  add(position: number, block: Float32Array): void;
  /** The records added since the last time; the same memory is used again afterwards. */
  take(): Uint8Array<ArrayBuffer>;
}

/** @param mostRecords how many there may be between two takings */
export function createJournalBatch(channels: number, blockFrames: number, mostRecords: number): JournalBatch {
  const bytes = recordBytes(channels, blockFrames);
  const memory = new Uint8Array(bytes * mostRecords);
  const view = new DataView(memory.buffer);
  let filled = 0;
  return {
    add(position, block) {
      const at = filled++ * bytes;
      view.setFloat64(at, position, true);
      memory.set(new Uint8Array(block.buffer, block.byteOffset, block.byteLength), at + POSITION_BYTES);
    },
    take() {
      const batch = memory.subarray(0, filled * bytes);
      filled = 0;
      return batch;
    },
  };
}

/** Reads a segment's records in order. What a crash cut off in the middle is left out. */
export function readJournal(segment: ArrayBuffer, channels: number, blockFrames: number, take: (position: number, block: Float32Array) => void): void {
  const bytes = recordBytes(channels, blockFrames);
  const view = new DataView(segment);
  const block = new Float32Array(channels * blockFrames);
  for (let at = 0; at + bytes <= segment.byteLength; at += bytes) {
    // A record need not begin where a float may.
    block.set(new Float32Array(segment.slice(at + POSITION_BYTES, at + bytes)));
    take(view.getFloat64(at, true), block);
  }
}
