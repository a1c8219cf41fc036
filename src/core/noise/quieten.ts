import { NOISE_FRAME, type Suppressor } from '../engine/strip/noise-suppression';

/** What a suppressor gives is so much later than what it was given. */
const LATE = NOISE_FRAME;
/** Read and given at once: 5 s. */
const PIECE = 500 * NOISE_FRAME;

export interface QuietenOptions {
  lengthSamples: number;
  /** Mono, 48 kHz; silence behind the end. */
  read(fromSample: number, lengthSamples: number): Promise<Float32Array>;
  suppressor: Suppressor;
  onProgress(share: number): Promise<void>;
}

/** A whole voice track with its noise suppressed, of the same length and in step with it, piece by piece. */
export async function* quieten({ lengthSamples, read, suppressor, onProgress }: QuietenOptions): AsyncGenerator<Float32Array> {
  let skip = LATE;
  for (let at = 0; at < lengthSamples + LATE; at += PIECE) {
    const piece = await read(at, Math.min(PIECE, Math.ceil((lengthSamples + LATE - at) / NOISE_FRAME) * NOISE_FRAME));
    for (let from = 0; from < piece.length; from += NOISE_FRAME) suppressor.process(piece.subarray(from, from + NOISE_FRAME));
    const given = piece.subarray(skip, Math.min(piece.length, lengthSamples + LATE - at));
    skip = 0;
    if (given.length > 0) yield given;
    await onProgress(Math.min(1, at / lengthSamples));
  }
}
