import type { WavDescription } from './header';
import { BYTES_PER_SAMPLE, decodeSamples, type SampleFormat } from './sample-format';

/** The bytes are not a WAV file this product can read. The message says why. */
export class WavFormatError extends Error {
  readonly code = 'wav-format';
}

/** Reads a WAV file in pieces of any size. */
export interface WavReader {
  /** Known once the `fmt ` chunk has passed; null before. */
  description(): WavDescription | null;
  /** Takes the next bytes and returns the frames they complete, one array a channel. */
  push(bytes: Uint8Array): Float32Array<ArrayBuffer>[];
  /** Says that no more bytes come. @throws {WavFormatError} when the file ended too soon */
  close(): void;
}

const EXTENSIBLE = 0xfffe;

/** @throws {WavFormatError} from `push` for anything that is not RIFF/WAVE in PCM or 32-bit float */
export function createWavReader(): WavReader {
  let pending: Uint8Array = new Uint8Array(0);
  let state: 'riff' | 'chunk' | 'data' | 'done' = 'riff';
  let wav: WavDescription | null = null;
  let dataLeft = 0;

  const take = (count: number): Uint8Array => {
    const taken = pending.subarray(0, count);
    pending = pending.subarray(count);
    return taken;
  };

  const readData = (): Float32Array<ArrayBuffer>[] => {
    if (!wav) throw new WavFormatError('This WAV file has samples before it says what they are.');
    const frameBytes = BYTES_PER_SAMPLE[wav.format] * wav.channels;
    const usable = Math.min(pending.length, dataLeft);
    const whole = usable - (usable % frameBytes);
    dataLeft -= whole;
    if (dataLeft < frameBytes) state = 'done';
    return decodeSamples(wav.format, wav.channels, take(whole));
  };

  /** Reads one chunk header, and the chunk where it matters. False when more bytes are needed. */
  const readChunk = (): boolean => {
    if (pending.length < 8) return false;
    const name = ascii(pending, 0, 4);
    const size = view(pending).getUint32(4, true);
    if (name === 'data') {
      take(8);
      dataLeft = size;
      state = 'data';
      return true;
    }
    const padded = size + (size % 2);
    if (pending.length < 8 + padded) return false;
    take(8);
    const body = take(padded);
    if (name === 'fmt ') wav = readFormat(body);
    return true;
  };

  return {
    description: () => wav,
    push(bytes) {
      const joined = new Uint8Array(pending.length + bytes.length);
      joined.set(pending);
      joined.set(bytes, pending.length);
      pending = joined;
      if (state === 'riff') {
        if (pending.length < 12) return [];
        if (ascii(pending, 0, 4) !== 'RIFF' || ascii(pending, 8, 12) !== 'WAVE') {
          throw new WavFormatError('This is not a WAV file: it does not begin with RIFF and WAVE.');
        }
        take(12);
        state = 'chunk';
      }
      while (state === 'chunk') if (!readChunk()) return [];
      return state === 'data' ? readData() : [];
    },
    close() {
      if (state !== 'done' && !(state === 'data' && dataLeft === 0)) {
        throw new WavFormatError('This WAV file ends before its samples do.');
      }
    },
  };
}

function readFormat(body: Uint8Array): WavDescription {
  if (body.length < 16) throw new WavFormatError('This WAV file has a broken format chunk.');
  const fields = view(body);
  let tag = fields.getUint16(0, true);
  const bits = fields.getUint16(14, true);
  // WAVE_FORMAT_EXTENSIBLE: the true tag is the first field of the sub-format GUID.
  if (tag === EXTENSIBLE && body.length >= 26) tag = fields.getUint16(24, true);
  const format: SampleFormat | undefined = ({ '1/16': 'pcm16', '1/24': 'pcm24', '3/32': 'float32' } as const)[
    `${tag}/${bits}` as '1/16'
  ];
  const channels = fields.getUint16(2, true);
  if (!format || channels < 1) {
    throw new WavFormatError(
      `This WAV file has format ${tag} with ${bits} bits and ${channels} channels; 16- or 24-bit PCM and 32-bit float can be read.`,
    );
  }
  return { format, channels, sampleRate: fields.getUint32(4, true) };
}

function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

function ascii(bytes: Uint8Array, from: number, to: number): string {
  return String.fromCharCode(...bytes.subarray(from, to));
}
