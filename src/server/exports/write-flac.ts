import { createFlacStreamEncoder } from '@/core/formats/flac/stream-encoder';
import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

/** Writes a sound as FLAC. Samples beyond full scale are held at the ends. @throws {Error} when the encoder refuses */
export async function writeFlac(sink: FileSink, source: SoundSource, bits: 16 | 24): Promise<void> {
  const { channels, sampleRate, frames } = source;
  const encoder = createFlacStreamEncoder(await encoderLibrary(), { channels, sampleRate, bits, frames });
  try {
    for await (const piece of source.pieces()) for (const bytes of encoder.push(piece)) await sink.write(bytes);
    const { bytes: last, patch } = encoder.finish();
    for (const bytes of last) await sink.write(bytes);
    if (patch) await sink.writeAt(patch.position, patch.bytes);
  } finally {
    encoder.close();
  }
}

/** libFLAC as WebAssembly. It takes Node's `fetch` for a browser's while it loads. */
async function encoderLibrary() {
  const kept = globalThis.fetch;
  (globalThis as { fetch?: typeof fetch }).fetch = undefined;
  try {
    const { default: Flac } = await import('libflacjs/dist/libflac.wasm.js');
    if (!Flac.isReady()) await new Promise<void>((resolve) => Flac.on('ready', () => resolve()));
    return Flac;
  } finally {
    globalThis.fetch = kept;
  }
}
