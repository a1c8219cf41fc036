import { broadcastWavHeader, type BroadcastFacts } from '@/core/formats/wav/broadcast';
import type { WavDescription } from '@/core/formats/wav/header';
import { encodeSamples, type SampleFormat } from '@/core/formats/wav/sample-format';
import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

/** Writes a sound as broadcast WAV, RF64 where it must be. */
export async function writeWav(sink: FileSink, source: SoundSource, format: SampleFormat, facts: BroadcastFacts): Promise<void> {
  const encoded = async function* () {
    for await (const piece of source.pieces()) yield encodeSamples(format, piece, 0, piece[0].length);
  };
  await writeWavBytes(sink, { format, channels: source.channels, sampleRate: source.sampleRate }, source.frames, facts, encoded());
}

/** The same of samples that are bytes already, whole frames at a time. */
export async function writeWavBytes(sink: FileSink, wav: WavDescription, frames: number, facts: BroadcastFacts, pieces: AsyncIterable<Uint8Array>): Promise<void> {
  await sink.write(broadcastWavHeader(wav, frames, facts));
  let bytes = 0;
  for await (const piece of pieces) {
    bytes += piece.length;
    await sink.write(piece);
  }
  if (bytes % 2 === 1) await sink.write(new Uint8Array(1));
}
