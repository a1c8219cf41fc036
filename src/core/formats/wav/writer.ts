import { wavHeader, type WavDescription } from './header';
import { encodeSamples } from './sample-format';

/** Where a writer's bytes go: a file, usually. `writeAt` goes back to complete the header. */
export interface WavSink {
  write(bytes: Uint8Array): void;
  writeAt(position: number, bytes: Uint8Array): void;
}

/** Writes a WAV file of unknown length, block by block. */
export interface WavWriter {
  write(channels: readonly Float32Array[], frames: number): void;
  /** Completes the file. Returns its length in frames. */
  close(): number;
}

/** @throws {TypeError} when a block has another number of channels than the file */
export function createWavWriter(wav: WavDescription, sink: WavSink): WavWriter {
  let frames = 0;
  let dataBytes = 0;
  let closed = false;
  sink.write(wavHeader(wav, 0));
  return {
    write(channels, count) {
      if (channels.length !== wav.channels) {
        throw new TypeError(`channels must be ${wav.channels} arrays, received ${channels.length}.`);
      }
      const bytes = encodeSamples(wav.format, channels, 0, count);
      sink.write(bytes);
      frames += count;
      dataBytes += bytes.length;
    },
    close() {
      if (!closed) {
        if (dataBytes % 2 === 1) sink.write(new Uint8Array(1));
        sink.writeAt(0, wavHeader(wav, frames));
        closed = true;
      }
      return frames;
    },
  };
}
