import Flac from 'libflacjs/dist/libflac.js';

const BITS = 24;
const LEVEL = 5;
const PIECE_FRAMES = 48000;
/** Where STREAMINFO has the MD5 of the samples (RFC 9639, 8.2), behind the marker and the block's header. */
const MD5_AT = 4 + 4 + 18;

/**
 * Encodes a sound as FLAC, 24 bits at 48 kHz. Samples beyond full scale are held at the ends.
 * @param onProgress share done, 0 to 1
 * @throws {Error} when the encoder refuses
 */
export async function encodeFlac(channels: readonly Float32Array[], onProgress: (share: number) => void = () => undefined): Promise<Uint8Array<ArrayBuffer>> {
  await ready();
  const { length } = channels[0];
  const parts: Uint8Array[] = [];
  let md5 = '';
  const encoder = Flac.create_libflac_encoder(48000, channels.length, BITS, LEVEL, length, false);
  if (encoder === 0) throw new Error('The FLAC encoder could not be made.');
  try {
    const begun = Flac.init_encoder_stream(
      encoder,
      (bytes) => void parts.push(bytes.slice()),
      (metadata) => (md5 = metadata?.md5sum ?? ''),
    );
    if (begun !== 0) throw new Error(`The FLAC encoder did not begin (${begun}).`);
    for (let from = 0; from < length; from += PIECE_FRAMES) {
      onProgress(from / length);
      const piece = channels.map((samples) => toIntegers(samples.subarray(from, Math.min(length, from + PIECE_FRAMES))));
      if (!Flac.FLAC__stream_encoder_process(encoder, piece, piece[0].length)) throw new Error('The FLAC encoder stopped.');
    }
    if (!Flac.FLAC__stream_encoder_finish(encoder)) throw new Error('The FLAC encoder did not finish.');
  } finally {
    Flac.FLAC__stream_encoder_delete(encoder);
  }
  const bytes = joined(parts);
  // The header was written before the checksum of all samples was known.
  const digits = md5.match(/../g) ?? [];
  if (digits.length === 16) bytes.set(digits.map((pair) => Number.parseInt(pair, 16)), MD5_AT);
  return bytes;
}

const ready = (): Promise<void> => new Promise((resolve) => (Flac.isReady() ? resolve() : Flac.on('ready', () => resolve())));

function toIntegers(samples: Float32Array): Int32Array<ArrayBuffer> {
  const most = 2 ** (BITS - 1);
  return Int32Array.from(samples, (x) => Math.max(-most, Math.min(most - 1, Math.round(x * most))));
}

function joined(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}
