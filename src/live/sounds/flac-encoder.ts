import Flac from 'libflacjs/dist/libflac.js';
import { toIntegers } from '@/core/formats/flac/flac-library';
import { createFlacStreamEncoder } from '@/core/formats/flac/stream-encoder.mjs';
import { joinBytes } from '@/core/formats/join-bytes';

const PIECE_FRAMES = 48000;
const BITS = 24;

/**
 * Encodes a sound as FLAC, 24 bits at 48 kHz. Samples beyond full scale are held at the ends.
 * @param onProgress share done, 0 to 1
 * @throws {Error} when the encoder refuses
 */
export async function encodeFlac(channels: readonly Float32Array[], onProgress: (share: number) => void = () => undefined): Promise<Uint8Array<ArrayBuffer>> {
  await ready();
  const { length } = channels[0];
  const encoder = createFlacStreamEncoder(Flac, { channels: channels.length, sampleRate: 48000, bits: BITS, frames: length });
  try {
    const parts: Uint8Array[] = [];
    for (let from = 0; from < length; from += PIECE_FRAMES) {
      onProgress(from / length);
      const to = Math.min(length, from + PIECE_FRAMES);
      const piece = channels.map((samples) => {
        const integers = new Int32Array(to - from);
        toIntegers(samples.subarray(from, to), BITS, integers);
        return integers;
      });
      parts.push(encoder.push(piece));
    }
    const { bytes: last, patch } = encoder.finish();
    const bytes = joinBytes([...parts, last]);
    if (patch) bytes.set(patch.bytes, patch.position);
    return bytes;
  } finally {
    encoder.close();
  }
}

const ready = (): Promise<void> => new Promise((resolve) => (Flac.isReady() ? resolve() : Flac.on('ready', () => resolve())));
