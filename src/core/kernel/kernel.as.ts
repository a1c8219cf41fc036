// The inner loops of the engine, the filters and the transforms, in AssemblyScript (compiled to WebAssembly with SIMD by
// `npm run kernel`): one file for each, all in one module. A stereo signal is two runs of floats: left at its address, right `side`
// bytes later. Every sample is computed in 32-bit float in the order of the operands, in the
// vector loop and in its tail alike, so results do not depend on how sound is cut into blocks.

export * from './mix.as';
export * from './meters.as';
export * from './filters.as';
export * from './bleed.as';
export * from './fft.as';
export * from './measuring.as';
export * from './resample.as';
