import { encodeSamples } from '@/core/formats/wav/sample-format';
import { createChunker } from '@/core/takes/chunker';
import { readJournal, SEGMENT_FRAMES } from '@/core/takes/journal';
import type { RecordedTrack } from './messages';
import { RING_BLOCK } from './ring';

/** Segments whose chunks stay in memory: one, and the next when a parcel reaches over the end of it. */
const SEGMENTS_IN_MEMORY = 2;

export interface KeptChunksOptions {
  /** All tracks; more may come while the take runs. */
  tracks: readonly RecordedTrack[];
  /** How many of them each part of the recording holds. */
  parts: readonly number[];
  chunkFrames: number;
  /** Session clock of the take's first sample. */
  clockAtStart(): number;
  /** What this browser's own disk has of a segment, in one part of the recording; empty where nothing was recorded. */
  readSegment(segment: number, part: number): Promise<ArrayBuffer>;
}

export const channelsOf = (tracks: readonly RecordedTrack[]): number => tracks.reduce((sum, { channels }) => sum + channels, 0);

/** Makes chunks again from what this browser's own disk has, byte for byte as they were: by the track's place and the chunk's index. */
export function createKeptChunks({ tracks, parts, chunkFrames, clockAtStart, readSegment }: KeptChunksOptions): (place: number, index: number) => Promise<Uint8Array<ArrayBuffer>> {
  const perSegment = SEGMENT_FRAMES / chunkFrames;
  const segments = new Map<number, Promise<Map<string, Uint8Array<ArrayBuffer>>>>();

  const load = async (segment: number): Promise<Map<string, Uint8Array<ArrayBuffer>>> => {
    const made = new Map<string, Uint8Array<ArrayBuffer>>();
    const start = { clockAtStart: clockAtStart(), index: segment * perSegment };
    const emit = (place: number, index: number, channels: readonly Float32Array[], frames: number) => void made.set(`${place} ${index}`, encodeSamples(tracks[place].format, channels, 0, frames));
    const chunker = createChunker([], emit, start, chunkFrames);
    let known = 0;
    for (const [part, count] of parts.entries()) {
      const records = await readSegment(segment, part);
      if (records.byteLength === 0 && part < parts.length - 1) continue;
      chunker.addTracks(tracks.slice(known, count).map(({ channels }) => channels));
      known = count;
      readJournal(records, channelsOf(tracks.slice(0, count)), RING_BLOCK, (position, block) => chunker.push(position, block, RING_BLOCK));
    }
    // What nobody recorded up to the end is silence, as it was the first time.
    chunker.push(start.clockAtStart + (segment + 1) * SEGMENT_FRAMES, new Float32Array(0), 0);
    return made;
  };

  return async (place, index) => {
    const segment = Math.floor(index / perSegment);
    if (!segments.has(segment)) {
      segments.set(segment, load(segment));
      if (segments.size > SEGMENTS_IN_MEMORY) segments.delete(segments.keys().next().value!);
    }
    return (await segments.get(segment)!).get(`${place} ${index}`)!;
  };
}
