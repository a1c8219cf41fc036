import { BYTES_PER_SAMPLE, type SampleFormat } from './sample-format';

export interface WavDescription {
  format: SampleFormat;
  channels: number;
  sampleRate: number;
}

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
/** The size fields of RIFF are 32 bits wide. */
const LARGEST_RIFF_BYTES = 0xffffffff;

/** A WAV file of this length cannot be written: its size does not fit a RIFF header. */
export class WavTooLongError extends RangeError {
  readonly code = 'wav-too-long';
}

/**
 * The bytes before the samples of a RIFF/WAVE file (IBM/Microsoft Multimedia Programming Interface
 * 1.0). Float files carry the `fact` chunk the format asks of everything that is not PCM.
 * @throws {WavTooLongError} when the file would exceed 4 GiB
 */
export function wavHeader(wav: WavDescription, frames: number): Uint8Array<ArrayBuffer> {
  const isFloat = wav.format === 'float32';
  const width = BYTES_PER_SAMPLE[wav.format];
  const dataBytes = frames * wav.channels * width;
  const headerBytes = isFloat ? 58 : 44;
  // A chunk of odd length is followed by one pad byte that its size does not count.
  const riffBytes = headerBytes - 8 + dataBytes + (dataBytes % 2);
  if (riffBytes > LARGEST_RIFF_BYTES) {
    throw new WavTooLongError(`${frames} frames need ${riffBytes} bytes; a WAV file ends at 4 GiB.`);
  }
  const bytes = new Uint8Array(headerBytes);
  const view = new DataView(bytes.buffer);
  let at = 0;
  const text = (value: string) => {
    for (const letter of value) bytes[at++] = letter.charCodeAt(0);
  };
  const u16 = (value: number) => {
    view.setUint16(at, value, true);
    at += 2;
  };
  const u32 = (value: number) => {
    view.setUint32(at, value, true);
    at += 4;
  };
  text('RIFF');
  u32(riffBytes);
  text('WAVE');
  text('fmt ');
  u32(isFloat ? 18 : 16);
  u16(isFloat ? FORMAT_FLOAT : FORMAT_PCM);
  u16(wav.channels);
  u32(wav.sampleRate);
  u32(wav.sampleRate * wav.channels * width); // bytes a second
  u16(wav.channels * width); // bytes a frame
  u16(width * 8); // bits a sample
  if (isFloat) {
    u16(0); // size of the extension
    text('fact');
    u32(4);
    u32(frames); // samples a channel
  }
  text('data');
  u32(dataBytes);
  return bytes;
}
