import { BYTES_PER_SAMPLE, encodeSamples } from '@/core/formats/wav/sample-format';
import { createChunker, type Chunker, type ChunkerStart } from '@/core/takes/chunker';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { SEGMENT_FRAMES, segmentOf } from '@/core/takes/journal';
import { createKeptChunks, type KeptChunksOptions } from './kept-chunks';
import type { Problem } from './answer';
import type { RecordedTrack } from './messages';
import { betweenTries } from './send-until-taken';
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
  waiting(): Problem | null;
  /** Why nothing more is sent; null as long as the server takes what it gets. */
  refused(): string | null;
  /** Further tracks from the next sample on; their chunks go once `known` says that the server knows of them. */
  addTracks(more: readonly RecordedTrack[], known: () => Promise<void>): void;
  /** Where much waits, memory is freed of what the disk has: all of a segment that is written whole. */
  relieve(): void;
}

/** Sound that may wait for the server in memory; the rest is read again from this computer's disk when its turn comes. */
const MOST_WAITING_BYTES = 32 * 2 ** 20;

/** How chunks travel, where that is not as usual. */
export type SendingWay = Partial<Pick<UploaderOptions, 'address' | 'headers' | 'atOnce' | 'pace'>> & {
  chunkFrames?: number;
  /** How many tracks each part of the recording held so far, on this browser's own disk; one part with all unless given. */
  parts?: readonly number[];
  /** What this browser's own disk has; without one, all that waits does so in memory. */
  readSegment?: KeptChunksOptions['readSegment'];
  mostWaitingBytes?: number;
};

export function createTrackSender(take: string, first: readonly RecordedTrack[], from?: ChunkerStart, way: SendingWay = {}): TrackSender {
  const chunkFrames = way.chunkFrames ?? CHUNK_FRAMES;
  const mostWaiting = way.mostWaitingBytes ?? MOST_WAITING_BYTES;
  const placeOf = (track: string): number => tracks.findIndex(({ id }) => id === track);
  const tracks = [...first];
  const parts = [...(way.parts ?? [tracks.length])];
  let waiting: Problem | null = null;
  let refused: string | null = null;
  let ready = Promise.resolve();
  /** For each track the first chunk that is made of it, and how many frames of each are stored. */
  const stored = tracks.map(() => ({ from: from?.index ?? 0, chunks: new Map<number, number>() }));
  const keptChunk = way.readSegment && createKeptChunks({ tracks, parts, chunkFrames, clockAtStart: () => chunker.clockAtStart(), readSegment: way.readSegment });
  const uploader = createUploader({
    pause: betweenTries.rest,
    ...way,
    ready: () => ready,
    skip: ({ track }) => isRefused(placeOf(track)),
    bringBack: keptChunk && (({ track, index }) => keptChunk(placeOf(track), index)),
    onStored(chunk) {
      const place = placeOf(chunk.track);
      const { channels, format } = tracks[place];
      stored[place].chunks.set(chunk.index, chunk.bytes.length / (BYTES_PER_SAMPLE[format] * channels));
      waiting = null;
    },
    onWaiting(problem) {
      waiting = problem;
    },
    onRefused(message) {
      refused = message;
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
  const isRefused = (place: number): boolean => tracks[place].late?.refused === true;
  const safeFrames = () => stored.map(({ from: index, chunks }, place) => (isRefused(place) ? chunker.captured() : framesFrom(chunks, index, chunkFrames)));
  return {
    chunker,
    uploader,
    safeFrames,
    safeSegments: () => Math.floor(Math.min(...safeFrames()) / SEGMENT_FRAMES),
    waiting: () => waiting,
    refused: () => refused,
    addTracks(more, known) {
      tracks.push(...more);
      parts.push(tracks.length);
      stored.push(...more.map(() => ({ from: Math.floor(chunker.captured() / chunkFrames), chunks: new Map<number, number>() })));
      chunker.addTracks(more.map(({ channels }) => channels));
      ready = ready.then(known);
      // Whoever sends next hears of it.
      ready.catch(() => undefined);
    },
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
