import { syntheticClip } from '../src/core/practice/synthetic-voice';

const RATE = 48000;
const GRID = 32768;

/** Rounded to the 16 bits a browser captures with, so that what arrives can be the same to the bit. */
const onGrid = (x: number): number => Math.round(x * GRID) / GRID;

/** Speech of a made-up talker, over and over. */
export function speech(seed: number, seconds: number): Float32Array {
  const clip = syntheticClip(seed, Math.min(seconds, 20));
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => onGrid(clip[i % clip.length]));
}

/** A steady tone with soft ends. */
export function tone(frequency: number, seconds: number, amplitude = 0.1): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => onGrid(amplitude * Math.min(1, i / 2400) * Math.sin((2 * Math.PI * frequency * i) / RATE)));
}

/**
 * Where a piece of what was sent lies in a track: the lag at which not one sample of it differs.
 * @returns the lag, or null where the track never holds it unchanged
 */
export function exactLag(track: Float32Array, sent: Float32Array, from: number, length: number): number | null {
  const begin = from + sent.subarray(from).findIndex((x) => Math.abs(x) > 0.02);
  for (let lag = -begin; lag + begin + length < track.length; lag++) {
    let i = 0;
    while (i < length && track[begin + lag + i] === sent[begin + i]) i++;
    if (i === length) return lag;
  }
  return null;
}

export const peakDb = (samples: Float32Array): number => 20 * Math.log10(samples.reduce((peak, x) => Math.max(peak, Math.abs(x)), 1e-9));
