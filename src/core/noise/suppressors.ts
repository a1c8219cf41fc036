import { NOISE_FRAME, type Suppressor } from '../engine/strip/noise-suppression';

/** A recurrent network that suppresses noise (Valin, A Hybrid DSP/Deep Learning Approach to Real-Time Full-Band Speech Enhancement, 2018), as its library has it. */
export interface NoiseLibrary {
  HEAPF32: Float32Array;
  _malloc(bytes: number): number;
  /** A voice's state; with 0 for the model it was made with. */
  _rnnoise_create(model: number): number;
  _rnnoise_process_frame(state: number, output: number, input: number): number;
}

/** How the library is made from its compiled module. */
export type NoiseLibraryMaker = (options: { instantiateWasm(imports: WebAssembly.Imports, receive: (instance: WebAssembly.Instance) => void): object }) => Promise<NoiseLibrary>;

/** The library takes samples as whole numbers of 16 bits, in floats. */
const SCALE = 32768;

/** Brings the library to run; what it gives makes one suppressor a voice, in one memory. */
export async function createSuppressors(make: NoiseLibraryMaker, module: WebAssembly.Module): Promise<() => Suppressor> {
  const library = await make({
    instantiateWasm(imports, receive) {
      const instance = new WebAssembly.Instance(module, imports);
      receive(instance);
      return instance.exports;
    },
  });
  const address = library._malloc(4 * NOISE_FRAME);
  return () => {
    const state = library._rnnoise_create(0);
    return {
      process(frame) {
        const at = address / 4;
        const { HEAPF32: memory } = library;
        for (let i = 0; i < NOISE_FRAME; i++) memory[at + i] = frame[i] * SCALE;
        library._rnnoise_process_frame(state, address, address);
        for (let i = 0; i < NOISE_FRAME; i++) frame[i] = memory[at + i] / SCALE;
      },
    };
  };
}
