import { createReadStream } from 'node:fs';
import { decodeSamples, encodeSamples } from '@/core/formats/wav/sample-format';
import { createFileSink } from './file-sink';
import type { SoundSource } from './sound-source';

const PIECE_FRAMES = 48000;
const BYTES = 4;

/** Lets a sound through and writes it to a file on the way, from which {@link fromSpool} gives it again without its being made again. */
export function spooling(source: SoundSource, path: string): SoundSource {
  return {
    ...source,
    async *pieces() {
      const sink = await createFileSink(path);
      try {
        for await (const piece of source.pieces()) {
          await sink.write(encodeSamples('float32', piece, 0, piece[0].length));
          yield piece;
        }
      } finally {
        await sink.close();
      }
    },
  };
}

/** What {@link spooling} has written, bit by bit. */
export function fromSpool(source: SoundSource, path: string): SoundSource {
  return {
    ...source,
    async *pieces() {
      const file = createReadStream(path, { highWaterMark: PIECE_FRAMES * source.channels * BYTES }) as AsyncIterable<Buffer>;
      for await (const bytes of file) yield decodeSamples('float32', source.channels, bytes);
    },
  };
}
