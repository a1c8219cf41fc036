import { joinBytes } from '../join-bytes';
import type { WavDescription } from './header';
import { BYTES_PER_SAMPLE } from './sample-format';

/** A moment that a cue point marks. */
export interface CuePoint {
  atSample: number;
  name: string;
}

/** What a broadcast WAV file says of itself (EBU Tech 3285, version 2). */
export interface BroadcastFacts {
  description: string;
  originator: string;
  originatorReference: string;
  /** When its first sample was recorded. */
  recordedAt: Date;
  /** Samples from midnight (UTC) to the first sample. */
  timeReference: number;
  /** LUFS, LU and dBFS as measured; null where nothing was. */
  loudness: { integratedLufs: number | null; rangeLu: number | null; truePeakDb: number | null; momentaryMaxLufs: number | null; shortTermMaxLufs: number | null };
  codingHistory: string;
  cues: readonly CuePoint[];
}

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
const LARGEST_RIFF_BYTES = 0xffffffff;
/** Body of `ds64` without a table. */
const DS64_BYTES = 28;
/** Where a value was not measured (EBU Tech 3285, 2.4). */
const NOT_MEASURED = 0x7fff;

/**
 * Everything before the samples of a broadcast WAV file: `bext`, `fmt `, `cue ` with labels, `data`. A
 * `JUNK` chunk holds the place of `ds64`; beyond 4 GiB the file becomes RF64 (EBU Tech 3306), in which
 * `ds64` carries the true sizes.
 */
export function broadcastWavHeader(wav: WavDescription, frames: number, facts: BroadcastFacts): Uint8Array<ArrayBuffer> {
  const width = BYTES_PER_SAMPLE[wav.format];
  const dataBytes = frames * wav.channels * width;
  const middle = [bextChunk(facts), formatChunk(wav), ...(wav.format === 'float32' ? [factChunk(frames)] : []), ...cueChunks(facts.cues)];
  const middleBytes = middle.reduce((sum, part) => sum + part.length, 0);
  const headerBytes = 12 + 8 + DS64_BYTES + middleBytes + 8;
  const riffBytes = headerBytes - 8 + dataBytes + (dataBytes % 2);
  const is64 = riffBytes > LARGEST_RIFF_BYTES;
  const head = writer(12 + 8 + DS64_BYTES);
  head.text(is64 ? 'RF64' : 'RIFF').u32(is64 ? LARGEST_RIFF_BYTES : riffBytes).text('WAVE');
  head.text(is64 ? 'ds64' : 'JUNK').u32(DS64_BYTES);
  if (is64) head.u64(riffBytes).u64(dataBytes).u64(frames).u32(0);
  const data = writer(8).text('data').u32(is64 ? LARGEST_RIFF_BYTES : dataBytes);
  return joinBytes([head.bytes, ...middle, data.bytes]);
}

function bextChunk(facts: BroadcastFacts): Uint8Array {
  const words = ascii(facts.codingHistory, 4096);
  // An even body: some readers of RF64 do not step over the pad byte of an odd one.
  const history = words.length % 2 === 0 ? words : `${words}\0`;
  const body = 602 + history.length;
  const iso = facts.recordedAt.toISOString();
  const { integratedLufs, rangeLu, truePeakDb, momentaryMaxLufs, shortTermMaxLufs } = facts.loudness;
  const chunk = writer(8 + body).text('bext').u32(body);
  chunk.field(facts.description, 256).field(facts.originator, 32).field(facts.originatorReference, 32);
  chunk.field(iso.slice(0, 10), 10).field(iso.slice(11, 19), 8);
  chunk.u32(facts.timeReference % 2 ** 32).u32(Math.floor(facts.timeReference / 2 ** 32)).u16(2);
  chunk.skip(64); // UMID: none
  for (const value of [integratedLufs, rangeLu, truePeakDb, momentaryMaxLufs, shortTermMaxLufs]) chunk.i16(value === null ? NOT_MEASURED : Math.round(value * 100));
  chunk.skip(180).text(history);
  return chunk.bytes;
}

function formatChunk(wav: WavDescription): Uint8Array {
  const width = BYTES_PER_SAMPLE[wav.format];
  const isFloat = wav.format === 'float32';
  const chunk = writer(8 + (isFloat ? 18 : 16)).text('fmt ').u32(isFloat ? 18 : 16);
  chunk.u16(isFloat ? FORMAT_FLOAT : FORMAT_PCM).u16(wav.channels).u32(wav.sampleRate);
  chunk.u32(wav.sampleRate * wav.channels * width).u16(wav.channels * width).u16(width * 8);
  return chunk.bytes;
}

const factChunk = (frames: number): Uint8Array => writer(12).text('fact').u32(4).u32(Math.min(frames, LARGEST_RIFF_BYTES)).bytes;

/** Cue points and, in an associated data list, their names. */
function cueChunks(cues: readonly CuePoint[]): Uint8Array[] {
  if (cues.length === 0) return [];
  const points = writer(8 + 4 + 24 * cues.length).text('cue ').u32(4 + 24 * cues.length).u32(cues.length);
  cues.forEach(({ atSample }, k) => points.u32(k + 1).u32(atSample).text('data').u32(0).u32(0).u32(atSample));
  const labels = cues.map(({ name }, k) => {
    const text = `${ascii(name, 200)}\0`;
    return writer(8 + 4 + text.length + (text.length % 2)).text('labl').u32(4 + text.length).u32(k + 1).text(text).bytes;
  });
  const size = 4 + labels.reduce((sum, label) => sum + label.length, 0);
  return [points.bytes, joinBytes([writer(12).text('LIST').u32(size).text('adtl').bytes, ...labels])];
}

function writer(length: number) {
  const bytes = new Uint8Array(length);
  const view = new DataView(bytes.buffer);
  let at = 0;
  const self = {
    bytes,
    text(value: string) {
      for (const letter of value) bytes[at++] = letter.charCodeAt(0);
      return self;
    },
    /** Text in a place of fixed length, filled up with zeros. */
    field(value: string, room: number) {
      self.text(ascii(value, room));
      at += room - ascii(value, room).length;
      return self;
    },
    u16(value: number) {
      view.setUint16(at, value, true);
      at += 2;
      return self;
    },
    i16(value: number) {
      view.setInt16(at, value, true);
      at += 2;
      return self;
    },
    u32(value: number) {
      view.setUint32(at, value, true);
      at += 4;
      return self;
    },
    u64(value: number) {
      view.setBigUint64(at, BigInt(value), true);
      at += 8;
      return self;
    },
    skip(count: number) {
      at += count;
      return self;
    },
  };
  return self;
}

/** The format asks for ASCII: accents are taken off, the rest becomes a question mark. */
function ascii(text: string, room: number): string {
  return text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[’‘]/g, "'")
    .replace(/[^\x20-\x7e\r\n]/g, '?')
    .slice(0, room);
}
