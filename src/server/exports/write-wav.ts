import { broadcastWavHeader, type BroadcastFacts } from '@/core/formats/wav/broadcast';
import { encodeSamples, type SampleFormat } from '@/core/formats/wav/sample-format';
import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

/** Writes a sound as broadcast WAV, RF64 where it must be. */
export async function writeWav(sink: FileSink, source: SoundSource, format: SampleFormat, facts: BroadcastFacts): Promise<void> {
  await sink.write(broadcastWavHeader({ format, channels: source.channels, sampleRate: source.sampleRate }, source.frames, facts));
  let bytes = 0;
  for await (const piece of source.pieces()) {
    const encoded = encodeSamples(format, piece, 0, piece[0].length);
    bytes += encoded.length;
    await sink.write(encoded);
  }
  if (bytes % 2 === 1) await sink.write(new Uint8Array(1));
}
