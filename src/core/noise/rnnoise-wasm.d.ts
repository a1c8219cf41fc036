declare module '@echogarden/rnnoise-wasm' {
  import type { NoiseLibraryMaker } from '@/core/noise/suppressors';

  const makeNoiseLibrary: NoiseLibraryMaker;
  export default makeNoiseLibrary;
}
