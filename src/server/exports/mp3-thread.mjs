// Encodes MP3 in a thread of its own: pieces of sound come in, bytes go out, in the same order. Plain JavaScript, because a
// thread begins without whatever translated its parent.
import { parentPort, workerData } from 'node:worker_threads';
import { createMp3Encoder } from 'wasm-media-encoders';

const encoder = await createMp3Encoder();
encoder.configure(workerData);

parentPort.on('message', (piece) => {
  // The encoder gives out the same memory again and again.
  const bytes = Uint8Array.from(piece === null ? encoder.finalize() : encoder.encode(piece));
  // What the piece lay in goes back, to be used again.
  parentPort.postMessage({ bytes, piece }, [bytes.buffer, ...(piece ?? []).map(({ buffer }) => buffer)]);
});
