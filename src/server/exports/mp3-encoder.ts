import { codedInThread } from './coding-thread';
import { PieceMemory } from './piece-memory';

/** What an MP3 is to be. */
export interface Mp3Settings {
  sampleRate: number;
  channels: 1 | 2;
  /** Kilobits a second, constant. */
  bitrate: number;
  /** By which the sound is louder in the file, linear. */
  gain: number;
}

/** What the thread gives back for a piece, and what that lay in. */
interface Encoded {
  bytes: Uint8Array;
  piece: Float32Array<ArrayBuffer>[] | null;
}

/** Encodes a sound. Gives the bytes, in order. */
export async function* encodeMp3(pieces: AsyncIterable<Float32Array[]>, { gain, ...settings }: Mp3Settings): AsyncGenerator<Uint8Array> {
  const memory = new PieceMemory((length) => new Float32Array(length));
  const louderPieces = async function* () {
    for await (const piece of pieces) {
      const into = memory.take(piece.length, piece[0].length);
      piece.forEach((samples, c) => louder(samples, gain, into[c]));
      yield into;
    }
  };
  for await (const { bytes, piece } of codedInThread<Encoded>(new URL('./mp3-thread.mjs', import.meta.url), settings, louderPieces())) {
    if (piece) memory.giveBack(piece);
    yield bytes;
  }
}

function louder(samples: Float32Array, gain: number, into: Float32Array): void {
  for (let i = 0; i < samples.length; i++) into[i] = gain * samples[i];
}
