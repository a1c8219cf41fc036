/** How samples are stored: little-endian PCM of 16 or 24 bits, or 32-bit float. */
export const SAMPLE_FORMATS = ['pcm16', 'pcm24', 'float32'] as const;
export type SampleFormat = (typeof SAMPLE_FORMATS)[number];

export const BYTES_PER_SAMPLE: Record<SampleFormat, number> = { pcm16: 2, pcm24: 3, float32: 4 };

/**
 * Interleaves `frames` frames of planar floats into bytes. Full scale 1.0 is 2^(bits−1); PCM values
 * beyond it are held at the ends.
 */
export function encodeSamples(
  format: SampleFormat,
  channels: readonly Float32Array[],
  fromFrame: number,
  frames: number,
): Uint8Array<ArrayBuffer> {
  const width = BYTES_PER_SAMPLE[format];
  const bytes = new Uint8Array(frames * channels.length * width);
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (let i = fromFrame; i < fromFrame + frames; i++) {
    for (const channel of channels) {
      if (format === 'float32') view.setFloat32(at, channel[i], true);
      else if (format === 'pcm16') view.setInt16(at, toInteger(channel[i], 0x8000), true);
      else {
        const value = toInteger(channel[i], 0x800000);
        bytes[at] = value;
        bytes[at + 1] = value >> 8;
        bytes[at + 2] = value >> 16;
      }
      at += width;
    }
  }
  return bytes;
}

/** The samples of whole interleaved frames as planar floats. Bytes after the last frame are left. */
export function decodeSamples(
  format: SampleFormat,
  channelCount: number,
  bytes: Uint8Array,
): Float32Array<ArrayBuffer>[] {
  const width = BYTES_PER_SAMPLE[format];
  const frames = Math.floor(bytes.length / (width * channelCount));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const channels = Array.from({ length: channelCount }, () => new Float32Array(frames));
  let at = 0;
  for (let i = 0; i < frames; i++) {
    for (const channel of channels) {
      if (format === 'float32') channel[i] = view.getFloat32(at, true);
      else if (format === 'pcm16') channel[i] = view.getInt16(at, true) / 0x8000;
      else channel[i] = (((view.getInt8(at + 2) << 16) | view.getUint16(at, true))) / 0x800000;
      at += width;
    }
  }
  return channels;
}

function toInteger(sample: number, fullScale: number): number {
  return Math.max(-fullScale, Math.min(fullScale - 1, Math.round(sample * fullScale)));
}
