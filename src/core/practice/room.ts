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
}

export function createRoom(options: RoomOptions, maxBlock: number, sampleRate = 48000): Room {
  if (options.couplingDb === null) return { play: () => undefined, pickUp: () => undefined };
  const { delays, gains } = impulseResponse(options, sampleRate);
  const size = 2 ** Math.ceil(Math.log2(Math.max(...delays) + 2 * maxBlock));
  const mask = size - 1;
  const line = new Float32Array(size);
  let written = 0;
  let read = 0;
  return {
    play(samples, length) {
      for (let i = 0; i < length; i++) line[(written + i) & mask] = samples[i];
      written += length;
    },
    pickUp(out, length) {
      for (let k = 0; k < delays.length; k++) {
        const gain = gains[k];
        const offset = read - delays[k] + size;
        for (let i = 0; i < length; i++) out[i] += gain * line[(offset + i) & mask];
      }
      read += length;
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
  const scale = dbToGain(options.couplingDb ?? -Infinity) / energy;
  return { delays, gains: gains.map((gain) => gain * scale) };
}
