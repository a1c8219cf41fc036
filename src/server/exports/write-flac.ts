import { createFlacStreamEncoder, type FlacDescription } from '@/core/formats/flac/stream-encoder';
import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

/** Writes a sound as FLAC. Samples beyond full scale are held at the ends. @throws {Error} when the encoder refuses */
export async function writeFlac(sink: FileSink, source: SoundSource, bits: 16 | 24): Promise<void> {
  const { channels, sampleRate, frames } = source;
  const encoder = await openFlac(sink, { channels, sampleRate, bits, frames });
  try {
    for await (const piece of source.pieces()) await encoder.push(piece);
    await encoder.finish();
  } finally {
    encoder.close();
  }
}

/** An encoder that writes into a file; whoever opens it closes it. */
export async function openFlac(sink: FileSink, description: FlacDescription) {
  const encoder = createFlacStreamEncoder(await encoderLibrary(), description);
  const keep = async (ready: readonly Uint8Array[]): Promise<void> => {
    for (const bytes of ready) await sink.write(bytes);
  };
  return {
    push: (channels: readonly Float32Array[]) => keep(encoder.push(channels)),
    pushIntegers: (channels: Int32Array<ArrayBuffer>[]) => keep(encoder.pushIntegers(channels)),
    async finish(): Promise<void> {
      const { bytes, patch } = encoder.finish();
      await keep(bytes);
      if (patch) await sink.writeAt(patch.position, patch.bytes);
    },
    close: () => encoder.close(),
  };
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
