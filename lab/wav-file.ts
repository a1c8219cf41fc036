import { closeSync, openSync, writeSync } from 'node:fs';
import { createWavWriter, type WavWriter } from '../src/core/formats/wav/writer';

/** A 32-bit float WAV file at 48 kHz, written as it goes. */
export function openWavFile(path: string, channels: number): WavWriter {
  const file = openSync(path, 'w');
  const writer = createWavWriter(
    { format: 'float32', channels, sampleRate: 48000 },
    {
      write: (bytes) => writeSync(file, bytes),
      writeAt: (position, bytes) => writeSync(file, bytes, 0, bytes.length, position),
    },
  );
  return {
    write: writer.write,
    close() {
      const frames = writer.close();
      closeSync(file);
      return frames;
    },
  };
}
