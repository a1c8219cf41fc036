// Encodes FLAC in a thread of its own: pieces of sound as whole numbers come in, bytes go out, in the same order.
import { parentPort, workerData } from 'node:worker_threads';
import { createFlacStreamEncoder } from '../../core/formats/flac/stream-encoder.mjs';

// libFLAC as WebAssembly takes Node's `fetch` for a browser's while it loads.
globalThis.fetch = undefined;
const { default: library } = await import('libflacjs/dist/libflac.wasm.js');
if (!library.isReady()) await new Promise((resolve) => library.on('ready', () => resolve()));

const encoder = createFlacStreamEncoder(library, workerData);

parentPort.on('message', (piece) => {
  const { bytes, patch } = piece === null ? encoder.finish() : { bytes: encoder.push(piece), patch: null };
  if (piece === null) encoder.close();
  // What the piece lay in goes back, to be used again.
  parentPort.postMessage({ bytes, patch, piece }, [bytes.buffer, ...(piece ?? []).map(({ buffer }) => buffer)]);
});
