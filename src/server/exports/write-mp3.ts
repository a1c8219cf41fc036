import NodeId3 from 'node-id3';
import { mp3Gain } from '@/core/formats/mp3-gain';
import type { FileSink } from './file-sink';
import { encodeMp3 } from './mp3-encoder';
import type { SoundSource } from './sound-source';

const STEREO_KBPS = 192;
const MONO_KBPS = 96;

/** What a player shows of a file. */
export interface TagFacts {
  title: string;
  artist: string;
  album: string;
  year: string;
  chapters: { title: string; startMs: number; endMs: number }[];
  cover: { bytes: Uint8Array; mediaType: string } | null;
}

/** Writes a sound as MP3 at a constant rate, with ID3 tags, chapters (ID3v2 CHAP and CTOC) and a cover before it. */
export async function writeMp3(sink: FileSink, source: SoundSource, facts: TagFacts): Promise<void> {
  await sink.write(id3(facts));
  const kbps = source.channels === 2 ? STEREO_KBPS : MONO_KBPS;
  for await (const bytes of encodeMp3(source.pieces(), { sampleRate: source.sampleRate, channels: source.channels, bitrate: kbps, gain: mp3Gain(kbps) })) await sink.write(bytes);
}

function id3({ title, artist, album, year, chapters, cover }: TagFacts): Uint8Array {
  const tag = NodeId3.create({
    title,
    artist,
    album,
    year,
    ...(cover ? { image: { mime: cover.mediaType, type: { id: 3, name: 'front cover' }, description: 'Cover', imageBuffer: Buffer.from(cover.bytes) } } : {}),
    chapter: chapters.map(({ title, startMs, endMs }, k) => ({ elementID: `chp${k}`, startTimeMs: startMs, endTimeMs: endMs, tags: { title } })),
    tableOfContents: chapters.length === 0 ? undefined : [{ elementID: 'toc', isOrdered: true, elements: chapters.map((_, k) => `chp${k}`), tags: {} }],
  });
  return new Uint8Array(tag as Buffer);
}
