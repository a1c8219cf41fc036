import { BYTES_PER_SAMPLE, encodeSamples } from '@/core/formats/wav/sample-format';
import { createChunker, type Chunker, type ChunkerStart } from '@/core/takes/chunker';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { SEGMENT_FRAMES, segmentOf } from '@/core/takes/journal';
import { createKeptChunks, type KeptChunksOptions } from './kept-chunks';
import type { RecordedTrack } from './messages';
import { createUploader, type Uploader, type UploaderOptions } from './uploader';

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
  /** Where much waits, memory is freed of what the disk has: all of a segment that is written whole. */
  relieve(): void;
}

/** Sound that may wait for the server in memory; the rest is read again from this computer's disk when its turn comes. */
const MOST_WAITING_BYTES = 32 * 2 ** 20;

/** How chunks travel, where that is not as usual. */
export type SendingWay = Partial<Pick<UploaderOptions, 'address' | 'headers' | 'atOnce' | 'pace'>> & {
  chunkFrames?: number;
  /** What this browser's own disk has; without one, all that waits does so in memory. */
  readSegment?: KeptChunksOptions['readSegment'];
  mostWaitingBytes?: number;
};

export function createTrackSender(take: string, tracks: readonly RecordedTrack[], from?: ChunkerStart, way: SendingWay = {}): TrackSender {
  const chunkFrames = way.chunkFrames ?? CHUNK_FRAMES;
  const mostWaiting = way.mostWaitingBytes ?? MOST_WAITING_BYTES;
  const placeOf = (track: string): number => tracks.findIndex(({ id }) => id === track);
  let waiting: string | null = null;
  const stored = tracks.map(() => new Map<number, number>());
  const keptChunk = way.readSegment && createKeptChunks({ tracks, chunkFrames, clockAtStart: () => chunker.clockAtStart(), readSegment: way.readSegment });
  const uploader = createUploader({
    ...way,
    bringBack: keptChunk && (({ track, index }) => keptChunk(placeOf(track), index)),
    onStored(chunk) {
      const place = placeOf(chunk.track);
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
    chunkFrames,
  );
  const safeFrames = () => stored.map((chunks) => framesFrom(chunks, from?.index ?? 0, chunkFrames));
  return {
    chunker,
    uploader,
    safeFrames,
    safeSegments: () => Math.floor(Math.min(...safeFrames()) / SEGMENT_FRAMES),
    waiting: () => waiting,
    relieve() {
      if (uploader.waitingBytes() <= mostWaiting) return;
      const writing = segmentOf(chunker.captured());
      uploader.letGo(({ index }) => segmentOf(index * chunkFrames) < writing);
    },
  };
}

/** Frames stored without a hole from the beginning. */
function framesFrom(chunks: Map<number, number>, first: number, chunkFrames: number): number {
  let index = first;
  while (chunks.get(index) === chunkFrames) index++;
  return index * chunkFrames + (chunks.get(index) ?? 0);
}
