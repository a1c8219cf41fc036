/** What is used of libFLAC compiled for JavaScript. Whoever encodes brings it: as WebAssembly where that loads, else as plain code. */
export interface FlacLibrary {
  create_libflac_encoder(sampleRate: number, channels: number, bits: number, level: number, frames: number, verify: boolean): number;
  init_encoder_stream(encoder: number, write: (bytes: Uint8Array) => void, metadata: (facts?: { md5sum: string }) => void): number;
  FLAC__stream_encoder_process(encoder: number, channels: Int32Array<ArrayBuffer>[], frames: number): boolean;
  FLAC__stream_encoder_finish(encoder: number): boolean;
  FLAC__stream_encoder_delete(encoder: number): void;
}

export interface FlacDescription {
  channels: number;
  sampleRate: number;
  bits: 16 | 24;
  /** Exact length, samples a channel. */
  frames: number;
}

/** A correction of bytes that are already written. */
export interface FlacPatch {
  position: number;
  bytes: Uint8Array<ArrayBuffer>;
}

/** One FLAC file that is made piece by piece. */
export interface FlacStreamEncoder {
  /** The next samples of every channel, as whole numbers of the file's bits; gives the bytes that are ready, in memory of their own. */
  push(channels: Int32Array<ArrayBuffer>[]): Uint8Array<ArrayBuffer>;
  /** The last bytes, and the checksum of all samples, which belongs into the header. */
  finish(): { bytes: Uint8Array<ArrayBuffer>; patch: FlacPatch | null };
  /** May be called twice. */
  close(): void;
}

/** Samples as whole numbers of so many bits. Beyond full scale they are held at the ends. */
export function toIntegers(samples: Float32Array, bits: number, integers: Int32Array): void {
  const most = 2 ** (bits - 1);
  for (let i = 0; i < samples.length; i++) integers[i] = Math.max(-most, Math.min(most - 1, Math.round(samples[i] * most)));
}
