import { toIntegers, type FlacDescription, type FlacPatch } from '@/core/formats/flac/flac-library';
import { codedInThread } from './coding-thread';
import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

/** What the thread gives back for a piece, and at the end what belongs into the header. */
interface Encoded {
  bytes: Uint8Array;
  patch: FlacPatch | null;
}

/** Writes a sound as FLAC. Samples beyond full scale are held at the ends. @throws {Error} when the encoder refuses */
export async function writeFlac(sink: FileSink, source: SoundSource, bits: 16 | 24): Promise<void> {
  const { channels, sampleRate, frames } = source;
  const whole = async function* () {
    for await (const piece of source.pieces()) yield piece.map((samples) => toIntegers(samples, bits));
  };
  await writeFlacIntegers(sink, { channels, sampleRate, bits, frames }, whole());
}

/** The same with samples as whole numbers of the file's bits, in memory of their own. */
export async function writeFlacIntegers(sink: FileSink, description: FlacDescription, pieces: AsyncIterable<Int32Array<ArrayBuffer>[]>): Promise<void> {
  for await (const { bytes, patch } of codedInThread<Encoded>(new URL('./flac-thread.mjs', import.meta.url), description, pieces)) {
    await sink.write(bytes);
    if (patch) await sink.writeAt(patch.position, patch.bytes);
  }
}
