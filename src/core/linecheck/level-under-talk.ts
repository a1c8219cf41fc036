import { createFft } from '../dsp/fft';
import { PERIOD_16K, type Code } from './codes';
import type { Whitener } from './whiten-microphone';

/** Only the direct way is heard here, and where it is loud it weighs less: on average so much is missing, dB. */
const ROOM_DB = 3;

/**
 * Level of a code that somebody talks over: its own wave, weighted as what was received was, held against that (weighted least
 * squares). Only the pauses count so, and of a way through a room only the first arrival: right to a few decibels.
 * @param whitened what was received, weighted
 * @param delaysMs delay from the beginning of each period of the signal, ms
 * @returns dB against what was sent at 0 dBFS
 */
export function levelUnderTalkDb(code: Code, whitener: Whitener, whitened: Float32Array, delaysMs: readonly number[]): number {
  const wave = waveOf(code);
  const reference = new Float32Array(whitened.length);
  for (let i = 0; i < reference.length; i++) {
    const period = Math.min(delaysMs.length - 1, Math.floor(i / PERIOD_16K));
    const late = Math.round(delaysMs[period] * 16);
    reference[i] = wave[(((i - period * PERIOD_16K - late) % PERIOD_16K) + PERIOD_16K) % PERIOD_16K];
  }
  const weighted = whitener.apply(reference);
  let best = 0;
  // Half a millisecond to each side: the lag is known to an eighth only.
  for (let shift = -4; shift <= 4; shift++) {
    let [both, own] = [0, 0];
    for (let i = 512; i < whitened.length - 512; i++) {
      both += whitened[i] * weighted[i - shift];
      own += weighted[i - shift] ** 2;
    }
    best = Math.max(best, own === 0 ? 0 : Math.abs(both) / own);
  }
  return best === 0 ? -Infinity : 20 * Math.log10(best) + ROOM_DB;
}

/** One period of a code with a mean square of one, at 16 kHz. */
function waveOf({ bins, re, im }: Code): Float64Array {
  const wave = new Float64Array(PERIOD_16K);
  const other = new Float64Array(PERIOD_16K);
  bins.forEach((bin, k) => {
    wave[bin] = wave[PERIOD_16K - bin] = re[k];
    other[bin] = im[k];
    other[PERIOD_16K - bin] = -im[k];
  });
  createFft(PERIOD_16K).inverse(wave, other);
  return wave;
}
