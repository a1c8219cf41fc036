import { closeSync, openSync, readSync } from 'node:fs';
import { createWavReader, WavFormatError } from '../src/core/formats/wav/reader';
import { UsageError } from './arguments';

const PIECE_BYTES = 2 ** 20;

export interface WavFile {
  sampleRate: number;
  channels: Float32Array[];
}

/** A whole WAV file. @throws {UsageError} when it cannot be read, with the reason */
export function readWavFile(path: string): WavFile {
  const reader = createWavReader();
  const parts: Float32Array[][] = [];
  let file: number;
  try {
    file = openSync(path, 'r');
  } catch {
    throw new UsageError(`${path} cannot be opened.`);
  }
  try {
    const bytes = new Uint8Array(PIECE_BYTES);
    for (let count = readSync(file, bytes); count > 0; count = readSync(file, bytes)) {
      const piece = reader.push(bytes.slice(0, count));
      if (piece.length > 0 && piece[0].length > 0) parts.push(piece);
    }
    reader.close();
  } catch (error) {
    if (error instanceof WavFormatError) throw new UsageError(`${path}: ${error.message}`);
    throw error;
  } finally {
    closeSync(file);
  }
  const { sampleRate, channels: count } = reader.description()!;
  const channels = Array.from({ length: count }, () => new Float32Array(parts.reduce((sum, [first]) => sum + first.length, 0)));
  let at = 0;
  for (const part of parts) {
    part.forEach((samples, c) => channels[c].set(samples, at));
    at += part[0].length;
  }
  return { sampleRate, channels };
}

/** A track at 48 kHz as one channel. @throws {UsageError} */
export function readMono(path: string): Float32Array {
  const { sampleRate, channels } = readWavFile(path);
  if (sampleRate !== 48000) throw new UsageError(`${path} has ${sampleRate} Hz; tracks are compared at 48000 Hz.`);
  return channels.length === 1 ? channels[0] : channels[0].map((sample, i) => (sample + channels[1][i]) / 2);
}

/** Any stretch of a sound in memory; silence outside it. */
export const stretchOf = (samples: Float32Array) => (from: number, length: number): Float32Array => {
  const out = new Float32Array(length);
  const start = Math.max(0, from);
  const end = Math.min(samples.length, from + length);
  if (end > start) out.set(samples.subarray(start, end), start - from);
  return out;
};
