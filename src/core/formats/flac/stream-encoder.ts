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
  bytes: Uint8Array;
}

/** One FLAC file that is made piece by piece. */
export interface FlacStreamEncoder {
  /** The next samples of every channel; gives the bytes that are ready. Beyond full scale they are held at the ends. */
  push(channels: readonly Float32Array[]): Uint8Array[];
  /** The same with samples as whole numbers of the file's bits. */
  pushIntegers(channels: Int32Array<ArrayBuffer>[]): Uint8Array[];
  /** The last bytes, and the checksum of all samples, which belongs into the header. */
  finish(): { bytes: Uint8Array[]; patch: FlacPatch | null };
  /** May be called twice. */
  close(): void;
}

/** Level 5: what the reference encoder does unless told otherwise. */
const LEVEL = 5;
/** Where STREAMINFO has the MD5 of the samples (RFC 9639, 8.2), behind the marker and the block's header. */
const MD5_AT = 4 + 4 + 18;

/** @throws {Error} here or later, when the encoder refuses */
export function createFlacStreamEncoder(library: FlacLibrary, { channels, sampleRate, bits, frames }: FlacDescription): FlacStreamEncoder {
  const encoder = library.create_libflac_encoder(sampleRate, channels, bits, LEVEL, frames, false);
  if (encoder === 0) throw new Error('The FLAC encoder could not be made.');
  const ready: Uint8Array[] = [];
  let md5 = '';
  let open = true;
  const close = (): void => {
    if (open) library.FLAC__stream_encoder_delete(encoder);
    open = false;
  };
  const begun = library.init_encoder_stream(
    encoder,
    (bytes) => void ready.push(bytes.slice()),
    (facts) => (md5 = facts?.md5sum ?? ''),
  );
  if (begun !== 0) {
    close();
    throw new Error(`The FLAC encoder did not begin (${begun}).`);
  }
  const pushIntegers = (integers: Int32Array<ArrayBuffer>[]): Uint8Array[] => {
    if (!library.FLAC__stream_encoder_process(encoder, integers, integers[0].length)) throw new Error('The FLAC encoder stopped.');
    return ready.splice(0);
  };
  return {
    push: (piece) => pushIntegers(piece.map((samples) => toIntegers(samples, bits))),
    pushIntegers,
    finish() {
      if (!library.FLAC__stream_encoder_finish(encoder)) throw new Error('The FLAC encoder did not finish.');
      const digits = md5.match(/../g) ?? [];
      const patch = digits.length === 16 ? { position: MD5_AT, bytes: Uint8Array.from(digits, (pair) => Number.parseInt(pair, 16)) } : null;
      return { bytes: ready.splice(0), patch };
    },
    close,
  };
}

function toIntegers(samples: Float32Array, bits: number): Int32Array<ArrayBuffer> {
  const most = 2 ** (bits - 1);
  const integers = new Int32Array(samples.length);
  for (let i = 0; i < samples.length; i++) integers[i] = Math.max(-most, Math.min(most - 1, Math.round(samples[i] * most)));
  return integers;
}
