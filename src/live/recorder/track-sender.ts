import { BYTES_PER_SAMPLE, encodeSamples } from '@/core/formats/wav/sample-format';
import { createChunker, type Chunker, type ChunkerStart } from '@/core/takes/chunker';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { SEGMENT_CHUNKS } from '@/core/takes/journal';
import type { RecordedTrack } from './messages';
import { createUploader, type Uploader } from './uploader';

/** Blocks of all tracks on their way to the server, chunk by chunk. */
export interface TrackSender {
  readonly chunker: Chunker;
  readonly uploader: Uploader;
  /** For each track, frames from its beginning that the server has stored. */
  safeFrames(): number[];
  /** Segments of which everything is stored: all below this one. */
  safeSegments(): number;
  /** Why chunks have to wait, while they do. */
  waiting(): string | null;
}

export function createTrackSender(take: string, tracks: readonly RecordedTrack[], from?: ChunkerStart): TrackSender {
  let waiting: string | null = null;
  const stored = tracks.map(() => new Map<number, number>());
  const uploader = createUploader({
    onStored(chunk) {
      const place = tracks.findIndex(({ id }) => id === chunk.track);
      const { channels, format } = tracks[place];
      stored[place].set(chunk.index, chunk.bytes.length / (BYTES_PER_SAMPLE[format] * channels));
      waiting = null;
    },
    onWaiting(message) {
      waiting = message;
    },
  });
  const chunker = createChunker(
    tracks.map(({ channels }) => channels),
    (place, index, channels, frames) => {
      const bytes = encodeSamples(tracks[place].format, channels, 0, frames);
      uploader.send({ take, track: tracks[place].id, index, bytes });
    },
    from,
  );
  const safeFrames = () => stored.map((chunks) => framesFrom(chunks, from?.index ?? 0));
  return {
    chunker,
    uploader,
    safeFrames,
    safeSegments: () => Math.floor(Math.min(...safeFrames()) / (SEGMENT_CHUNKS * CHUNK_FRAMES)),
    waiting: () => waiting,
  };
}

/** Frames stored without a hole from the beginning. */
function framesFrom(chunks: Map<number, number>, first: number): number {
  let index = first;
  while (chunks.get(index) === CHUNK_FRAMES) index++;
  return index * CHUNK_FRAMES + (chunks.get(index) ?? 0);
}
