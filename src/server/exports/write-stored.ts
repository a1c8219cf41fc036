import type { BroadcastFacts } from '@/core/formats/wav/broadcast';
import { BYTES_PER_SAMPLE, decodeIntegers, type SampleFormat } from '@/core/formats/wav/sample-format';
import { SAMPLE_RATE } from '@/core/takes/chunks';
import { createFileSink, type FileSink } from './file-sink';
import { writeFlacIntegers } from './write-flac';
import { writeWavBytes } from './write-wav';

/** A track as it is stored: interleaved frames, whole ones at a time. */
export interface StoredSound {
  channels: 1 | 2;
  format: SampleFormat;
  /** Exact length, samples at 48 kHz. */
  frames: number;
  pieces(): AsyncIterable<Uint8Array>;
}

/**
 * Writes a track whose samples stay what they are, without making numbers of another kind of them on the way.
 * @param onProgress share done, 0 to 1
 */
export async function writeStored(path: string, sound: StoredSound, file: 'wav' | 'flac', facts: BroadcastFacts, onProgress: (share: number) => Promise<void>): Promise<void> {
  const sink = await createFileSink(path);
  const frameBytes = sound.channels * BYTES_PER_SAMPLE[sound.format];
  const watched = async function* () {
    let done = 0;
    for await (const piece of sound.pieces()) {
      yield piece;
      done += piece.length / frameBytes;
      await onProgress(Math.min(1, done / sound.frames));
    }
  };
  try {
    if (file === 'wav') await writeWavBytes(sink, { format: sound.format, channels: sound.channels, sampleRate: SAMPLE_RATE }, sound.frames, facts, watched());
    else if (sound.format === 'float32') throw new TypeError('FLAC holds whole numbers; this sound is stored as float32.');
    else await storedFlac(sink, sound, sound.format, watched());
  } finally {
    await sink.close();
  }
}

async function storedFlac(sink: FileSink, { channels, frames }: StoredSound, format: 'pcm16' | 'pcm24', pieces: AsyncIterable<Uint8Array>): Promise<void> {
  const frameBytes = channels * BYTES_PER_SAMPLE[format];
  await writeFlacIntegers(sink, { channels, sampleRate: SAMPLE_RATE, bits: format === 'pcm16' ? 16 : 24, frames }, async function* (memory) {
    for await (const piece of pieces) {
      const into = memory.take(channels, piece.length / frameBytes);
      decodeIntegers(format, piece, into);
      yield into;
    }
  });
}
