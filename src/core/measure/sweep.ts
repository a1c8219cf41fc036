/** A short rising tone for finding out whether a microphone hears the loudspeakers. */
export interface Sweep {
  samples: Float32Array;
  sampleRate: number;
}

const LOWEST_HZ = 400;
const HIGHEST_HZ = 5000;
const SECONDS = 0.8;
const FADE_SECONDS = 0.04;
const LEVEL = 0.25;

/** An exponential sweep with faded ends (Farina, AES 108th Convention, 2000). */
export function makeSweep(sampleRate: number): Sweep {
  const length = Math.round(SECONDS * sampleRate);
  const samples = new Float32Array(length);
  const ratio = Math.log(HIGHEST_HZ / LOWEST_HZ);
  for (let i = 0; i < length; i++) {
    const t = i / sampleRate;
    const phase = ((2 * Math.PI * LOWEST_HZ * SECONDS) / ratio) * (Math.exp((t / SECONDS) * ratio) - 1);
    const fade = Math.min(1, t / FADE_SECONDS, (SECONDS - t) / FADE_SECONDS);
    samples[i] = LEVEL * Math.sin(phase) * 0.5 * (1 - Math.cos(Math.PI * Math.max(0, fade)));
  }
  return { samples, sampleRate };
}

/** Whether a microphone heard what was played. */
export interface SweepHeard {
  heard: boolean;
  /** Level of the sweep in the recording against the level it was played at, dB; null when not heard. */
  levelDb: number | null;
  /** From playing to hearing, ms; null when not heard. */
  delayMs: number | null;
}
