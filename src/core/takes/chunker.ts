import { CHUNK_FRAMES } from './chunks';

/** A full or last chunk of one track, as planar floats. The arrays are used again afterwards. */
export type ChunkSink = (track: number, index: number, channels: readonly Float32Array[], frames: number) => void;

/** A stretch that was lost before it reached the chunker, in samples from the take's beginning. */
export interface LostStretch {
  atSample: number;
  lengthSamples: number;
}

/**
 * Cuts blocks of all tracks into chunks. Blocks carry their clock position; where one is missing,
 * silence takes its place, so that every track keeps its exact length, and the loss is reported.
 */
export interface Chunker {
  /** All tracks' channels one after another, `frames` samples each. A block that is older than what is there is left out. */
  push(position: number, block: Float32Array, frames: number): void;
  /** Gives out what is left as last chunks. Returns the take's length in samples. */
  finish(): number;
  /** Samples taken in so far, lost ones included. */
  captured(): number;
  /** Session clock of the first sample, or -1 before any. */
  clockAtStart(): number;
  losses(): readonly LostStretch[];
  /** Further tracks from the next sample on; blocks have their channels behind the others from now on. Their first chunk is silent up to there. */
  addTracks(channelCounts: readonly number[]): void;
}

/** Where a chunker goes on that begins in the middle of a take. */
export interface ChunkerStart {
  /** Session clock of the take's first sample. */
  clockAtStart: number;
  /** The first chunk that is made. */
  index: number;
}

/**
 * @param channelCounts channels of each track, in the order of a block's channels
 * @param chunkSamples frames in each chunk but the last
 */
export function createChunker(channelCounts: readonly number[], emit: ChunkSink, from?: ChunkerStart, chunkSamples = CHUNK_FRAMES): Chunker {
  const tracks: Float32Array[][] = [];
  let channels: Float32Array[] = [];
  const addTracks = (counts: readonly number[]): void => {
    tracks.push(...counts.map((count) => Array.from({ length: count }, () => new Float32Array(chunkSamples))));
    channels = tracks.flat();
  };
  addTracks(channelCounts);
  const losses: LostStretch[] = [];
  let filled = 0;
  let index = from?.index ?? 0;
  let start = from?.clockAtStart ?? -1;
  let expected = from ? from.clockAtStart + from.index * chunkSamples : -1;

  const emitAll = (): void => {
    tracks.forEach((track, place) => emit(place, index, track, filled));
    index++;
    filled = 0;
  };

  /** Appends frames to all channels; `from` gives channel and offset, or silence where it is null. */
  const append = (block: Float32Array | null, frames: number): void => {
    for (let done = 0; done < frames; ) {
      const count = Math.min(frames - done, chunkSamples - filled);
      channels.forEach((channel, place) => {
        if (block === null) channel.fill(0, filled, filled + count);
        else channel.set(block.subarray(place * frames + done, place * frames + done + count), filled);
      });
      filled += count;
      done += count;
      if (filled === chunkSamples) emitAll();
    }
  };

  return {
    push(position, block, frames) {
      if (start < 0) start = expected = position;
      // A disk that lost power may hand back zeros for what was written last: nothing of the take is before what is there.
      if (position < expected) return;
      if (position > expected) {
        losses.push({ atSample: expected - start, lengthSamples: position - expected });
        append(null, position - expected);
      }
      append(block, frames);
      expected = position + frames;
    },
    finish() {
      const length = index * chunkSamples + filled;
      if (filled > 0) emitAll();
      return length;
    },
    captured: () => index * chunkSamples + filled,
    clockAtStart: () => start,
    losses: () => losses,
    addTracks,
  };
}
