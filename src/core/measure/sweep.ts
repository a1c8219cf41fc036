import { gainToDb } from '../dsp/decibels';
import { correlate } from '../dsp/fft';

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

export interface SweepHeard {
  heard: boolean;
  /** Level of the sweep in the recording against the level it was played at, dB; null when not heard. */
  levelDb: number | null;
  /** From playing to hearing, ms; null when not heard. */
  delayMs: number | null;
}

/** A peak this many times the correlation's own noise is the sweep and nothing else. */
const CERTAIN = 8;

/**
 * Looks for a sweep in a recording by its matched filter. The level is that of the strongest
 * arrival; a room's reflections add to what is heard but not to this number.
 * @param recording mono, at the sweep's rate
 * @param playedAt where in the recording the sweep began to play, samples
 */
export function findSweep(recording: Float32Array, sweep: Sweep, playedAt: number): SweepHeard {
  const { samples, sampleRate } = sweep;
  const energy = samples.reduce((sum, x) => sum + x * x, 0);
  const lags = recording.length - samples.length - playedAt;
  const nothing: SweepHeard = { heard: false, levelDb: null, delayMs: null };
  if (lags < 1) return nothing;
  const correlation = correlate(recording.subarray(playedAt), samples, lags);
  let best = 0;
  for (let lag = 1; lag < lags; lag++) if (Math.abs(correlation[lag]) > Math.abs(correlation[best])) best = lag;
  const peak = Math.abs(correlation[best]);
  // The noise is what the correlation does away from the peak.
  const away = Math.round(0.03 * sampleRate);
  let noise = 0;
  let counted = 0;
  for (let lag = 0; lag < lags; lag++) {
    if (Math.abs(lag - best) <= away) continue;
    noise += correlation[lag] * correlation[lag];
    counted++;
  }
  const rms = counted === 0 ? 0 : Math.sqrt(noise / counted);
  if (peak === 0 || (rms > 0 && peak < CERTAIN * rms)) return nothing;
  return { heard: true, levelDb: gainToDb(peak / energy), delayMs: (1000 * best) / sampleRate };
}
