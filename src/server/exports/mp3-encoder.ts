import { Worker } from 'node:worker_threads';

/** What an MP3 is to be. */
export interface Mp3Settings {
  sampleRate: number;
  channels: 1 | 2;
  /** Kilobits a second, constant. */
  bitrate: number;
  /** By which the sound is louder in the file, linear. */
  gain: number;
}

/** The thread keeps nothing but what it works on. */
const resourceLimits = { maxYoungGenerationSizeMb: 4 };
/** Pieces that may wait at the thread: enough for it never to wait, and no more than some seconds of sound in memory. */
const MOST_AHEAD = 4;

/** What the thread gives back for a piece, and what that lay in. */
interface Encoded {
  bytes: Uint8Array;
  piece: Float32Array<ArrayBuffer>[] | null;
}

/** Encodes a sound in a thread of its own, so that it can be made and measured meanwhile. Gives the bytes, in order. */
export async function* encodeMp3(pieces: AsyncIterable<Float32Array[]>, { gain, ...settings }: Mp3Settings): AsyncGenerator<Uint8Array> {
  const thread = new Worker(new URL('./mp3-thread.mjs', import.meta.url), { workerData: settings, resourceLimits });
  const answers: Encoded[] = [];
  /** Memory that has come back: a second of sound each time would be hundreds of megabytes until it is collected. */
  const free: Float32Array<ArrayBuffer>[][] = [];
  let failure: Error | null = null;
  let wake = (): void => undefined;
  thread.on('message', (encoded: Encoded) => {
    answers.push(encoded);
    wake();
  });
  const fail = (error: Error): void => {
    failure ??= error;
    wake();
  };
  thread.on('error', fail);
  thread.on('exit', () => fail(new Error('The MP3 encoder ended by itself.')));
  let asked = 0;
  const ask = (piece: Float32Array<ArrayBuffer>[] | null): void => {
    asked++;
    thread.postMessage(piece, piece?.map(({ buffer }) => buffer));
  };
  const answer = async (): Promise<Uint8Array> => {
    while (answers.length === 0) {
      if (failure) throw failure;
      await new Promise<void>((resolve) => (wake = resolve));
    }
    asked--;
    const { bytes, piece } = answers.shift()!;
    if (piece) free.push(piece);
    return bytes;
  };
  try {
    for await (const piece of pieces) {
      const there = free.findIndex((one) => one[0].length === piece[0].length);
      const into = there < 0 ? piece.map(({ length }) => new Float32Array(length)) : free.splice(there, 1)[0];
      piece.forEach((samples, c) => louder(samples, gain, into[c]));
      ask(into);
      while (asked > MOST_AHEAD || answers.length > 0) yield await answer();
    }
    ask(null);
    while (asked > 0) yield await answer();
  } finally {
    await thread.terminate();
  }
}

function louder(samples: Float32Array, gain: number, into: Float32Array): void {
  for (let i = 0; i < samples.length; i++) into[i] = gain * samples[i];
}
