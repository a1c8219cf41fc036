import makeNoiseLibrary from '@echogarden/rnnoise-wasm';
import { voicesInTime } from '@/core/noise/capacity';
import { createSuppressors } from '@/core/noise/suppressors';
import type { NoiseTimed } from './noise-time-messages';

self.onmessage = async ({ data: module }: MessageEvent<WebAssembly.Module>) => {
  const suppressor = (await createSuppressors(makeNoiseLibrary, module))();
  self.postMessage({ mostVoices: voicesInTime(suppressor, () => performance.now()) } satisfies NoiseTimed);
};
