import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

const LEVEL = 5;
/** Where STREAMINFO has the MD5 of the samples (RFC 9639, 8.2), behind the marker and the block's header. */
const MD5_AT = 4 + 4 + 18;

/** Writes a sound as FLAC. Samples beyond full scale are held at the ends. @throws {Error} when the encoder refuses */
export async function writeFlac(sink: FileSink, source: SoundSource, bits: 16 | 24): Promise<void> {
  const Flac = await encoderLibrary();
  const encoder = Flac.create_libflac_encoder(source.sampleRate, source.channels, bits, LEVEL, source.frames, false);
  if (encoder === 0) throw new Error('The FLAC encoder could not be made.');
  const ready: Uint8Array[] = [];
  let md5 = '';
  try {
    const begun = Flac.init_encoder_stream(encoder, (bytes) => void ready.push(bytes.slice()), (metadata) => (md5 = metadata?.md5sum ?? ''));
    if (begun !== 0) throw new Error(`The FLAC encoder did not begin (${begun}).`);
    const most = 2 ** (bits - 1);
    for await (const piece of source.pieces()) {
      const integers = piece.map((samples) => Int32Array.from(samples, (x) => Math.max(-most, Math.min(most - 1, Math.round(x * most)))));
      if (!Flac.FLAC__stream_encoder_process(encoder, integers, piece[0].length)) throw new Error('The FLAC encoder stopped.');
      for (const bytes of ready.splice(0)) await sink.write(bytes);
    }
    if (!Flac.FLAC__stream_encoder_finish(encoder)) throw new Error('The FLAC encoder did not finish.');
  } finally {
    Flac.FLAC__stream_encoder_delete(encoder);
  }
  for (const bytes of ready.splice(0)) await sink.write(bytes);
  // The header was written before the checksum of all samples was known.
  const digits = md5.match(/../g) ?? [];
  if (digits.length === 16) await sink.writeAt(MD5_AT, Uint8Array.from(digits, (pair) => Number.parseInt(pair, 16)));
}

/** The library takes Node's `fetch` for a browser's while it loads. */
async function encoderLibrary() {
  const kept = globalThis.fetch;
  (globalThis as { fetch?: typeof fetch }).fetch = undefined;
  try {
    const { default: Flac } = await import('libflacjs/dist/libflac.js');
    if (!Flac.isReady()) await new Promise<void>((resolve) => Flac.on('ready', () => resolve()));
    return Flac;
  } finally {
    globalThis.fetch = kept;
  }
}
