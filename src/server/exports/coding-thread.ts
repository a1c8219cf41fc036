import { Worker } from 'node:worker_threads';

/** The thread keeps nothing but what it works on. */
const resourceLimits = { maxYoungGenerationSizeMb: 4 };
/** Pieces that may wait at the thread: no more than some seconds of sound in memory. */
const MOST_AHEAD = 2;

/** A piece of sound, all channels: memory of its own, which is the thread's once it was handed over. */
export type Piece = readonly (Float32Array<ArrayBuffer> | Int32Array<ArrayBuffer>)[];

/**
 * Codes a sound in a thread of its own, so that it can be made and measured meanwhile.
 * @param entry plain JavaScript: a thread begins without whatever translated its parent. It answers every piece, and the null at the end, by one message
 * @returns the answers, in order
 * @throws {Error} when the thread fails
 */
export async function* codedInThread<Answer>(entry: URL, workerData: object, pieces: AsyncIterable<Piece>): AsyncGenerator<Answer> {
  const thread = new Worker(entry, { workerData, resourceLimits });
  const answers: Answer[] = [];
  let failure: Error | null = null;
  let wake = (): void => undefined;
  thread.on('message', (answer: Answer) => {
    answers.push(answer);
    wake();
  });
  const fail = (error: Error): void => {
    failure ??= error;
    wake();
  };
  thread.on('error', fail);
  thread.on('exit', () => fail(new Error('The encoder ended by itself.')));
  let asked = 0;
  const ask = (piece: Piece | null): void => {
    asked++;
    thread.postMessage(piece, piece?.map(({ buffer }) => buffer));
  };
  const answer = async (): Promise<Answer> => {
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
