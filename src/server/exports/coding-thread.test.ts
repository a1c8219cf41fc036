import { expect, test } from 'vitest';
import { codedInThread } from './coding-thread';

const thread = (onMessage: string) => new URL(`data:text/javascript,import { parentPort, workerData } from 'node:worker_threads'; parentPort.on('message', (piece) => { ${encodeURIComponent(onMessage)} });`);

/** Pieces of one sample that say which they are; how far ahead they were asked for. */
function countedPieces(count: number) {
  const given = { count: 0 };
  const pieces = async function* () {
    for (; given.count < count; given.count++) yield [Float32Array.of(given.count)];
  };
  return { given, pieces: pieces() };
}

test('what a thread makes of each piece comes in order, with its end, and pieces wait for it', async () => {
  const { given, pieces } = countedPieces(50);
  const heard: unknown[] = [];
  for await (const answer of codedInThread(thread('parentPort.postMessage(piece === null ? "end" : workerData.add + piece[0][0])'), { add: 100 }, pieces)) {
    expect(given.count - heard.length).toBeLessThan(8);
    heard.push(answer);
  }
  expect(heard).toEqual([...Array.from({ length: 50 }, (_, k) => 100 + k), 'end']);
});

test('a thread that fails or ends by itself is an error, and not a wait without end', async () => {
  const all = async (onMessage: string) => {
    for await (const answer of codedInThread(thread(onMessage), {}, countedPieces(50).pieces)) void answer;
  };
  await expect(all('throw new Error("no more room")')).rejects.toThrow('no more room');
  await expect(all('process.exit(0)')).rejects.toThrow('ended by itself');
});
