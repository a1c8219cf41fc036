/** Samples in one record of the ring: the audio thread's block. */
export const RING_BLOCK = 128;
/** Blocks a ring holds unless asked for fewer: about 5.5 s, so that a busy recorder loses nothing. */
export const RING_BLOCKS = 2048;

const HEADER_BYTES = 16;
const WRITTEN = 0;
const READ = 1;
const CLOSED = 2;
const POSITION_BYTES = 8;

/**
 * One writer (the audio thread), one reader (the recorder), no locks and no waiting for the writer.
 * A record is the clock position of a block and its channels one after another.
 */
export interface RingWriter {
  /** Room for the next block's channels, or null when the reader is a whole ring behind. */
  next(): Float32Array | null;
  /** Hands the block over; `position` is the session clock of its first sample. */
  commit(position: number): void;
  /** Says that no more blocks come. */
  close(): void;
}

export interface RingReader {
  /** Reads every waiting block in order. */
  drain(take: (position: number, channels: Float32Array) => void): void;
  /** True once the writer has closed and everything was drained. */
  ended(): boolean;
}

export function ringBytes(channels: number, blocks = RING_BLOCKS): number {
  return HEADER_BYTES + blocks * recordBytes(channels);
}

const recordBytes = (channels: number): number => POSITION_BYTES + channels * RING_BLOCK * 4;

function records(memory: SharedArrayBuffer, channels: number) {
  return Array.from({ length: (memory.byteLength - HEADER_BYTES) / recordBytes(channels) }, (_, k) => {
    const at = HEADER_BYTES + k * recordBytes(channels);
    return {
      position: new Float64Array(memory, at, 1),
      channels: new Float32Array(memory, at + POSITION_BYTES, channels * RING_BLOCK),
    };
  });
}

export function ringWriter(memory: SharedArrayBuffer, channels: number): RingWriter {
  const header = new Int32Array(memory, 0, 4);
  const slots = records(memory, channels);
  let written = Atomics.load(header, WRITTEN);
  return {
    next() {
      const full = written - Atomics.load(header, READ) >= slots.length;
      return full ? null : slots[written % slots.length].channels;
    },
    commit(position) {
      slots[written % slots.length].position[0] = position;
      written++;
      Atomics.store(header, WRITTEN, written);
    },
    close() {
      Atomics.store(header, CLOSED, 1);
    },
  };
}

/** Says for a writer that does not answer any more that no more blocks come. */
export const closeRing = (memory: SharedArrayBuffer): void => void Atomics.store(new Int32Array(memory, 0, 4), CLOSED, 1);

export function ringReader(memory: SharedArrayBuffer, channels: number): RingReader {
  const header = new Int32Array(memory, 0, 4);
  const slots = records(memory, channels);
  let read = Atomics.load(header, READ);
  return {
    drain(take) {
      for (let end = Atomics.load(header, WRITTEN); read < end; ) {
        const slot = slots[read % slots.length];
        take(slot.position[0], slot.channels);
        read++;
        Atomics.store(header, READ, read);
      }
    },
    ended: () => Atomics.load(header, CLOSED) === 1 && read === Atomics.load(header, WRITTEN),
  };
}
