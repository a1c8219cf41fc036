import { toIntegers, type FlacDescription, type FlacPatch } from '@/core/formats/flac/flac-library';
import { codedInThread } from './coding-thread';
import type { FileSink } from './file-sink';
import { PieceMemory } from './piece-memory';
import type { SoundSource } from './sound-source';

/** What the thread gives back for a piece, what that lay in, and at the end what belongs into the header. */
interface Encoded {
  bytes: Uint8Array;
  patch: FlacPatch | null;
  piece: Int32Array<ArrayBuffer>[] | null;
}

/** Memory for pieces of whole numbers. */
export type IntegerMemory = PieceMemory<Int32Array<ArrayBuffer>>;

/** Writes a sound as FLAC. Samples beyond full scale are held at the ends. @throws {Error} when the encoder refuses */
export async function writeFlac(sink: FileSink, source: SoundSource, bits: 16 | 24): Promise<void> {
  const { channels, sampleRate, frames } = source;
  await writeFlacIntegers(sink, { channels, sampleRate, bits, frames }, async function* (memory) {
    for await (const piece of source.pieces()) {
      const into = memory.take(channels, piece[0].length);
      piece.forEach((samples, c) => toIntegers(samples, bits, into[c]));
      yield into;
    }
  });
}

/** The same with samples as whole numbers of the file's bits, in the memory that is given for them. */
export async function writeFlacIntegers(sink: FileSink, description: FlacDescription, pieces: (memory: IntegerMemory) => AsyncIterable<Int32Array<ArrayBuffer>[]>): Promise<void> {
  const memory: IntegerMemory = new PieceMemory((length) => new Int32Array(length));
  for await (const { bytes, patch, piece } of codedInThread<Encoded>(new URL('./flac-thread.mjs', import.meta.url), description, pieces(memory))) {
    if (piece) memory.giveBack(piece);
    await sink.write(bytes);
    if (patch) await sink.writeAt(patch.position, patch.bytes);
  }
}
