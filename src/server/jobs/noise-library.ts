import { readFile } from 'node:fs/promises';
import makeNoiseLibrary from '@echogarden/rnnoise-wasm';
import type { Suppressor } from '@/core/engine/strip/noise-suppression';
import { createSuppressors } from '@/core/noise/suppressors';

const MODULE = 'node_modules/@echogarden/rnnoise-wasm/rnnoise.wasm';

/** What makes suppressors of noise, one a voice. */
export async function loadSuppressors(): Promise<() => Suppressor> {
  return createSuppressors(makeNoiseLibrary, new WebAssembly.Module(await readFile(MODULE)));
}
