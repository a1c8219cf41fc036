import { dbToGain } from '../dsp/decibels';
import { createRandom } from '../random';

export interface RoomOptions {
  /** Level of what comes back from the loudspeakers into the microphone, dB; null for a headset. */
  couplingDb: number | null;
  /** From loudspeaker to microphone, including the guest's own sound driver, ms. */
  delayMs: number;
  seed: number;
}

const REFLECTIONS = 14;
const REVERBERATION_MS = 28;

/**
 * The way from a guest's loudspeakers to their microphone: a direct path and a few decaying
 * reflections. With a headset nothing comes back at all.
 */
export interface Room {
  /** What the loudspeakers play, mono. */
  play(samples: Float32Array, length: number): void;
  /** Adds what the microphone picks up over the next samples. Call before `play` for each block. */
  pickUp(out: Float32Array, length: number): void;
  /** Another level of the way back; null when a headset is put on. */
  setCoupling(couplingDb: number | null): void;
}

export function createRoom(options: RoomOptions, maxBlock: number, sampleRate = 48000): Room {
  const { delays, gains } = impulseResponse(options, sampleRate);
  const size = 2 ** Math.ceil(Math.log2(Math.max(...delays) + 2 * maxBlock));
  const mask = size - 1;
  const line = new Float32Array(size);
  let written = 0;
  let read = 0;
  let level = levelOf(options.couplingDb);
  return {
    play(samples, length) {
      for (let i = 0; i < length; i++) line[(written + i) & mask] = samples[i];
      written += length;
    },
    pickUp(out, length) {
      read += length;
      if (level === 0) return;
      for (let k = 0; k < delays.length; k++) {
        const gain = gains[k] * level;
        const offset = read - length - delays[k] + size;
        for (let i = 0; i < length; i++) out[i] += gain * line[(offset + i) & mask];
      }
    },
    setCoupling(couplingDb) {
      level = levelOf(couplingDb);
    },
  };
}

function impulseResponse(options: RoomOptions, sampleRate: number) {
  const random = createRandom(options.seed);
  const direct = Math.round((options.delayMs / 1000) * sampleRate);
  const delays = [direct];
  const gains = [1];
  for (let k = 0; k < REFLECTIONS; k++) {
    const laterMs = random.between(1, REVERBERATION_MS);
    delays.push(direct + Math.round((laterMs / 1000) * sampleRate));
    gains.push(0.5 * random.normal() * Math.exp((-4 * laterMs) / REVERBERATION_MS));
  }
  const energy = Math.sqrt(gains.reduce((sum, gain) => sum + gain * gain, 0));
  return { delays, gains: gains.map((gain) => gain / energy) };
}

const levelOf = (couplingDb: number | null): number => (couplingDb === null ? 0 : dbToGain(couplingDb));
