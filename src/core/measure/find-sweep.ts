import { correlate } from '../dsp/fft';
import type { Sweep } from './sweep';

/** The sound that is sent: the sweep twice, for speech can look like one, but not twice at the same delay. */
const GAP_SECONDS = 0.6;
const SAME_MS = 3;
const SAME_DB = 4;
/** A peak this many times the correlation's own noise may be the sweep. */
const LIKELY = 8;
/** So much like it, of 1, that it can be nothing else: one is enough where a machine that stood still spoilt the other. */
const CERTAIN_LIKENESS = 0.6;

/** The sweep twice, with a pause as long as a way back may take. */
export function provingSound({ samples, sampleRate }: Sweep): { samples: Float32Array; sentAt: [first: number, second: number] } {
  const second = samples.length + Math.round(GAP_SECONDS * sampleRate);
  const sound = new Float32Array(second + samples.length);
  sound.set(samples);
  sound.set(samples, second);
  return { samples: sound, sentAt: [0, second] };
}

interface Arrival {
  at: number;
  /** Peak of the matched filter. */
  strength: number;
}

/** The strongest of some lags, which may reach beyond both ends. */
function strongest(correlation: Float64Array, from: number, to: number): Arrival {
  let found: Arrival = { at: from, strength: 0 };
  for (let at = Math.max(0, from); at < Math.min(correlation.length, to); at++) {
    const strength = Math.abs(correlation[at]);
    if (strength > found.strength) found = { at, strength };
  }
  return found;
}

/** What the correlation does away from all arrivals, root of its mean square. */
function noiseAround(correlation: Float64Array, arrivals: readonly Arrival[], away: number): number {
  let [sum, count] = [0, 0];
  for (let lag = 0; lag < correlation.length; lag++) {
    if (arrivals.some(({ at }) => Math.abs(lag - at) <= away)) continue;
    sum += correlation[lag] * correlation[lag];
    count++;
  }
  return Math.sqrt(sum / Math.max(1, count));
}

/** How much a stretch is the sweep and nothing else, 0 to 1. */
function likeness(recording: Float32Array, sweep: Sweep, energy: number, { at, strength }: Arrival): number {
  let own = 0;
  for (let i = at; i < at + sweep.samples.length; i++) own += recording[i] * recording[i];
  return own === 0 ? 0 : strength / Math.sqrt(own * energy);
}

/**
 * Looks for a {@link provingSound} by its matched filter: two arrivals as far apart as they were sent, or one that can be nothing
 * else. The level is that of the strongest arrival; a room's reflections add to what is heard but not to this number.
 * @param recording mono, at the sweep's rate, from when it was sent
 * @returns where the earlier one begins, samples, and its level against what was sent, dB; null when there are none
 */
export function findSweep(recording: Float32Array, sweep: Sweep): { at: number; gainDb: number } | null {
  const { samples, sampleRate } = sweep;
  const lags = recording.length - samples.length;
  if (lags < 1) return null;
  const correlation = correlate(recording, samples, lags);
  const energy = samples.reduce((sum, x) => sum + x * x, 0);
  const best = strongest(correlation, 0, lags);
  const apart = provingSound(sweep).sentAt[1];
  const around = Math.round((SAME_MS / 1000) * sampleRate);
  const beside = [best.at - apart, best.at + apart].map((at) => strongest(correlation, at - around, at + around));
  const other = beside[0].strength > beside[1].strength ? beside[0] : beside[1];
  const noise = noiseAround(correlation, [best, other], Math.round(0.03 * sampleRate));
  const isPair = other.strength > LIKELY * noise && 20 * Math.log10(best.strength / other.strength) < SAME_DB;
  const isAlone = best.strength > LIKELY * noise && likeness(recording, sweep, energy, best) > CERTAIN_LIKENESS;
  if (!isPair && !isAlone) return null;
  // What a stall took away makes it quieter, never louder.
  return { at: isPair ? Math.min(best.at, other.at) : best.at, gainDb: 20 * Math.log10(best.strength / energy) };
}
