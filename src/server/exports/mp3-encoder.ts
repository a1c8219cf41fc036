import { Worker } from 'node:worker_threads';

/** What an MP3 is to be. */
export interface Mp3Settings {
  sampleRate: number;
  channels: 1 | 2;
  /** Kilobits a second, constant. */
  bitrate: number;
}

/** The thread keeps nothing but what it works on. */
const resourceLimits = { maxYoungGenerationSizeMb: 4 };
/** Pieces that may wait at the thread: enough for it never to wait, and no more than some seconds of sound in memory. */
const MOST_AHEAD = 4;

/** Encodes a sound in a thread of its own, so that it can be made and measured meanwhile. Gives the bytes, in order. */
export async function* encodeMp3(pieces: AsyncIterable<Float32Array<ArrayBuffer>[]>, settings: Mp3Settings): AsyncGenerator<Uint8Array> {
  const thread = new Worker(new URL('./mp3-thread.mjs', import.meta.url), { workerData: settings, resourceLimits });
  const answers: Uint8Array[] = [];
  let failure: Error | null = null;
  let wake = (): void => undefined;
  thread.on('message', (bytes: Uint8Array) => {
    answers.push(bytes);
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
    return answers.shift()!;
  };
  try {
    for await (const piece of pieces) {
      ask(piece);
      while (asked > MOST_AHEAD || answers.length > 0) yield await answer();
    }
    ask(null);
    while (asked > 0) yield await answer();
  } finally {
    await thread.terminate();
  }
}
