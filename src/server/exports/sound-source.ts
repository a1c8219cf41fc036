import * as samplerate from '@alexanderolsen/libsamplerate-js';

// A CommonJS package: Node gives its exports as the default, bundlers by name.
const { create, ConverterType } = ((samplerate as { default?: typeof samplerate }).default ?? samplerate) as typeof samplerate;

/** Sound on its way into a file: planar pieces of any length, in order. */
export interface SoundSource {
  channels: 1 | 2;
  sampleRate: number;
  /** Exact length, samples at `sampleRate`. */
  frames: number;
  pieces(): AsyncIterable<Float32Array<ArrayBuffer>[]>;
}

/** The same sound at another rate, to the exact length (sinc, 149 dB signal to noise). */
export function atRate(source: SoundSource, rate: number): SoundSource {
  if (rate === source.sampleRate) return source;
  const frames = Math.round((source.frames * rate) / source.sampleRate);
  return { channels: source.channels, sampleRate: rate, frames, pieces: () => resampled(source, rate, frames) };
}

/** Silence that pushes the converter's last samples out. */
const TAIL_FRAMES = 4800;

async function* resampled(source: SoundSource, rate: number, frames: number): AsyncGenerator<Float32Array<ArrayBuffer>[]> {
  const { channels } = source;
  const converter = await create(channels, source.sampleRate, rate, { converterType: ConverterType.SRC_SINC_BEST_QUALITY });
  let given = 0;
  const convert = (piece: readonly Float32Array[]): Float32Array<ArrayBuffer>[] => {
    const interleaved = new Float32Array(piece[0].length * channels);
    piece.forEach((samples, c) => samples.forEach((sample, i) => (interleaved[i * channels + c] = sample)));
    const out = converter.full(interleaved);
    const count = Math.min(out.length / channels, frames - given);
    given += count;
    return piece.map((_, c) => Float32Array.from({ length: count }, (_, i) => out[i * channels + c]));
  };
  try {
    for await (const piece of source.pieces()) yield convert(piece);
    while (given < frames) yield convert(Array.from({ length: channels }, () => new Float32Array(TAIL_FRAMES)));
  } finally {
    converter.destroy();
  }
}
