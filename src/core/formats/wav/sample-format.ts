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
  const frameBytes = channels.length * width;
  const bytes = new Uint8Array(frames * frameBytes);
  const view = new DataView(bytes.buffer);
  channels.forEach((channel, c) => {
    const samples = channel.subarray(fromFrame, fromFrame + frames);
    switch (format) {
      case 'pcm16':
        return encodePcm16(samples, view, c * width, frameBytes);
      case 'pcm24':
        return encodePcm24(samples, view, c * width, frameBytes);
      case 'float32':
        return encodeFloat32(samples, view, c * width, frameBytes);
    }
  });
  return bytes;
}

/** The samples of whole interleaved frames as planar floats. Bytes after the last frame are left. */
export function decodeSamples(
  format: SampleFormat,
  channelCount: number,
  bytes: Uint8Array,
): Float32Array<ArrayBuffer>[] {
  const width = BYTES_PER_SAMPLE[format];
  const frameBytes = width * channelCount;
  const frames = Math.floor(bytes.length / frameBytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Array.from({ length: channelCount }, (_, c) => {
    const samples = new Float32Array(frames);
    switch (format) {
      case 'pcm16':
        decodePcm16(view, c * width, frameBytes, samples);
        break;
      case 'pcm24':
        decodePcm24(view, c * width, frameBytes, samples);
        break;
      case 'float32':
        decodeFloat32(view, c * width, frameBytes, samples);
        break;
    }
    return samples;
  });
}

/** Writes the samples of interleaved PCM frames into one list a channel, as whole numbers, as they are stored. */
export function decodeIntegers(format: 'pcm16' | 'pcm24', bytes: Uint8Array, channels: readonly Int32Array[]): void {
  const step = BYTES_PER_SAMPLE[format] * channels.length;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  channels.forEach((integers, c) => {
    if (format === 'pcm16') integersOf16(bytes, c * 2, step, integers);
    else integersOf24(view, c * 3, step, integers);
  });
}

// One loop a format, over one channel: hours of sound pass through here, and a choice in the loop costs several times as much.

/** Of one channel, four samples of 24 bits are read and written as three words: shifts carry their signs down. */
const SAMPLES_IN_WORDS = 4;

function encodePcm16(samples: Float32Array, into: DataView, at: number, step: number): void {
  for (let i = 0; i < samples.length; i++, at += step) into.setInt16(at, toInteger16(samples[i]), true);
}

function encodePcm24(samples: Float32Array, into: DataView, at: number, step: number): void {
  let i = 0;
  if (step === 3) {
    for (const end = samples.length - SAMPLES_IN_WORDS; i <= end; i += SAMPLES_IN_WORDS, at += 12) {
      const second = toInteger24(samples[i + 1]);
      const third = toInteger24(samples[i + 2]);
      into.setInt32(at, (toInteger24(samples[i]) & 0xffffff) | (second << 24), true);
      into.setInt32(at + 4, ((second >> 8) & 0xffff) | (third << 16), true);
      into.setInt32(at + 8, ((third >> 16) & 0xff) | (toInteger24(samples[i + 3]) << 8), true);
    }
  }
  for (; i < samples.length; i++, at += step) {
    const value = toInteger24(samples[i]);
    into.setInt16(at, value, true);
    into.setInt8(at + 2, value >> 16);
  }
}

function encodeFloat32(samples: Float32Array, into: DataView, at: number, step: number): void {
  for (let i = 0; i < samples.length; i++, at += step) into.setFloat32(at, samples[i], true);
}

function decodePcm16(from: DataView, at: number, step: number, samples: Float32Array): void {
  for (let i = 0; i < samples.length; i++, at += step) samples[i] = from.getInt16(at, true) / 0x8000;
}

function integersOf16(from: Uint8Array, at: number, step: number, integers: Int32Array): void {
  for (let i = 0; i < integers.length; i++, at += step) integers[i] = ((from[at + 1] << 24) >> 16) | from[at];
}

function integersOf24(from: DataView, at: number, step: number, integers: Int32Array): void {
  let i = 0;
  if (step === 3) {
    for (const end = integers.length - SAMPLES_IN_WORDS; i <= end; i += SAMPLES_IN_WORDS, at += 12) {
      const first = from.getInt32(at, true);
      const second = from.getInt32(at + 4, true);
      const third = from.getInt32(at + 8, true);
      integers[i] = (first << 8) >> 8;
      integers[i + 1] = (((first >>> 24) | (second << 8)) << 8) >> 8;
      integers[i + 2] = (((second >>> 16) | (third << 16)) << 8) >> 8;
      integers[i + 3] = third >> 8;
    }
  }
  for (; i < integers.length; i++, at += step) integers[i] = (from.getInt8(at + 2) << 16) | from.getUint16(at, true);
}

/** A power of two: multiplying by it is exact, and quicker than dividing. */
const PCM24_STEP = 1 / 0x800000;

function decodePcm24(from: DataView, at: number, step: number, samples: Float32Array): void {
  let i = 0;
  if (step === 3) {
    for (const end = samples.length - SAMPLES_IN_WORDS; i <= end; i += SAMPLES_IN_WORDS, at += 12) {
      const first = from.getInt32(at, true);
      const second = from.getInt32(at + 4, true);
      const third = from.getInt32(at + 8, true);
      samples[i] = ((first << 8) >> 8) * PCM24_STEP;
      samples[i + 1] = ((((first >>> 24) | (second << 8)) << 8) >> 8) * PCM24_STEP;
      samples[i + 2] = ((((second >>> 16) | (third << 16)) << 8) >> 8) * PCM24_STEP;
      samples[i + 3] = (third >> 8) * PCM24_STEP;
    }
  }
  for (; i < samples.length; i++, at += step) samples[i] = ((from.getInt8(at + 2) << 16) | from.getUint16(at, true)) * PCM24_STEP;
}

function decodeFloat32(from: DataView, at: number, step: number, samples: Float32Array): void {
  for (let i = 0; i < samples.length; i++, at += step) samples[i] = from.getFloat32(at, true);
}

function toInteger16(sample: number): number {
  const value = sample * 0x8000;
  return value >= 0x7fff ? 0x7fff : value <= -0x8000 ? -0x8000 : Math.floor(value + 0.5);
}

function toInteger24(sample: number): number {
  const value = sample * 0x800000;
  return value >= 0x7fffff ? 0x7fffff : value <= -0x800000 ? -0x800000 : Math.floor(value + 0.5);
}
